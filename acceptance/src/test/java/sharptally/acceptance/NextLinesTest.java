package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Deque;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Random;
import java.util.Set;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * Each command that the program proposes as the next one is run as it stands, and those that it proposes then, until nothing
 * is new; whatever is applied is what was compared, though other runs were made meanwhile.
 */
class NextLinesTest {
    private static final String DEMO = "tide-demo/";
    private static final int MOST = 40;

    @TempDir
    Path folder;

    /** The commands of this program among the lines behind {@code next}; what stands behind four blanks explains them. */
    private static List<String> proposed(Tool.Result result) {
        List<String> commands = new ArrayList<>();
        boolean next = false;
        for (String line : result.lines()) {
            next = line.startsWith("next  ") || next && line.startsWith("      ");
            int start = line.indexOf("sharp-tally ");
            if (next && start >= 0) {
                commands.add(line.substring(start).split(" {4}")[0].strip());
            }
        }
        return commands;
    }

    private static Tool.Result pasted(Tool tool, String command, String confirmed) {
        String program = Tool.home().resolve("bin/sharp-tally").toString();
        return Tool.process(
                tool.folder(),
                confirmed,
                List.of("bash", "-c", command.replaceFirst("^sharp-tally", "'" + program + "'")));
    }

    @Test
    void everyNextLineCanBePasted() throws Exception {
        Tool tool = new Tool(folder);
        tool.run("demo", "--data-only", "--size", "2000");
        Deque<String> waiting = new ArrayDeque<>(List.of(
                "sharp-tally draft sqlite:" + DEMO + "old.db h2:" + DEMO + "new --out drafted.yaml",
                "sharp-tally compare sqlite:" + DEMO + "old.db h2:" + DEMO + "new --runs 'other runs'",
                "sharp-tally show --runs 'other runs' --table station --save-selection 'some of them.jsonl'",
                "sharp-tally compare --job " + DEMO + "tide.yaml",
                "sharp-tally recheck"));
        Set<String> done = new LinkedHashSet<>();
        while (!waiting.isEmpty() && done.size() < MOST) {
            String command = waiting.poll();
            if (!done.add(command)) {
                continue;
            }
            Tool.Result result = pasted(tool, command, "new\n");
            assertThat(result.code()).as(command + "\n" + result.all()).isLessThan(2);
            proposed(result).stream().filter(c -> !c.contains(" apply ")).forEach(waiting::add);
        }
        assertThat(done)
                .anyMatch(c -> c.startsWith("sharp-tally script"))
                .anyMatch(c -> c.startsWith("sharp-tally compare --job drafted.yaml"))
                .anyMatch(c -> c.startsWith("sharp-tally show"));
    }

    @Test
    void whatIsAppliedIsWhatTheScriptSaid() throws Exception {
        Database source = new Database(Database.Kind.SQLITE, folder, "one");
        Database target = new Database(Database.Kind.SQLITE, folder, "two");
        for (Database side : List.of(source, target)) {
            side.execute("CREATE TABLE g (id INTEGER PRIMARY KEY)", "CREATE TABLE w (id INTEGER PRIMARY KEY)");
        }
        source.execute("INSERT INTO g VALUES (1)", "INSERT INTO w VALUES (2)");
        Tool tool = new Tool(folder);
        assertThat(tool.run("compare", source.address() + "#g", target.address())
                        .code())
                .isEqualTo(1);
        List<String> apply = proposed(tool.run("script")).stream()
                .filter(c -> c.contains(" apply "))
                .toList();
        assertThat(apply).hasSize(1);
        // Another comparison is the latest now; the line still means the one of its script.
        assertThat(tool.run("compare", source.address() + "#w", target.address())
                        .code())
                .isEqualTo(1);
        Tool.Result applied = pasted(tool, apply.get(0), "two.db\n");
        assertThat(applied.code()).as(applied.all()).isZero();
        assertThat(target.values("SELECT id FROM g")).containsExactly("1");
        assertThat(target.values("SELECT id FROM w")).isEmpty();
    }

    /** What {@code next} calls the same changes is the same: choices go with it. */
    @Test
    void whatIsProposedMakesTheChangesThatWereChosen() throws Exception {
        long seed = Seed.next();
        System.out.println("seed " + seed);
        Random random = new Random(seed);
        Tool tool = new Tool(folder);
        tool.run("demo", "--data-only", "--size", "1000");
        assertThat(tool.run("compare", "sqlite:" + DEMO + "old.db", "h2:" + DEMO + "new")
                        .code())
                .isEqualTo(1);
        assertThat(tool.run("show", "--kind", "missing", "--save-selection", "chosen.jsonl")
                        .code())
                .isZero();
        List<List<String>> choices = List.of(
                List.of("--table", "station,reading"),
                List.of("--table", "st*"),
                List.of("--kind", "changed,extra"),
                List.of("--kind", "missing"),
                List.of("--fix", "source"),
                List.of("--with-parents"),
                List.of("--column", "name"),
                List.of("--selection", "chosen.jsonl"),
                List.of("--backup", "was"),
                List.of("--lock-wait", "7s"));
        for (int i = 0; i < 6; i++) {
            List<List<String>> chosen = new ArrayList<>(choices);
            Collections.shuffle(chosen, random);
            List<String> words = chosen.subList(0, 1 + random.nextInt(2)).stream()
                    .flatMap(List::stream)
                    .toList();
            List<String> command = new ArrayList<>(List.of("script"));
            command.addAll(words);
            Tool.Result script = tool.run(command.toArray(new String[0]));
            String apply = proposed(script).stream()
                    .filter(c -> c.contains(" apply "))
                    .findFirst()
                    .orElse("");
            String story = "seed " + seed + " " + words + "\n" + apply + "\n" + script.all();
            if (script.out().contains("nothing to change, by")) {
                assertThat(proposed(script)).as(story).isEmpty();
                continue;
            }
            assertThat(apply).as(story).isNotEmpty();
            Tool.Result applied = pasted(tool, apply + " --dry-run", "");
            // Some choices are refused by the foreign keys of the target, after the changes were told.
            assertThat(applied.code()).as(story + applied.all()).isIn(0, 1, 4);
            assertThat(counts(applied)).as(story + applied.all()).isEqualTo(counts(script));
            Tool.Result shown = tool.run(Stream.concat(Stream.of("show"), words.stream())
                    .filter(w -> !Set.of("--with-parents").contains(w))
                    .toArray(String[]::new));
            if (shown.code() == 0 && !proposed(shown).isEmpty()) {
                assertThat(counts(pasted(tool, proposed(shown).get(0), "")))
                        .as(story + shown.all())
                        .isEqualTo(counts(script));
            }
        }
    }

    /** The table of changes, as script and apply print it alike. */
    private static List<String> counts(Tool.Result result) {
        return result.lines().stream()
                .filter(l -> l.matches("\\S+( +[0-9,]+){3,}.*"))
                .toList();
    }
}
