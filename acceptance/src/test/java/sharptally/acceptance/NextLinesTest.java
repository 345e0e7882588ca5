package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
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
        tool.run("demo", "--data-only", "--rows", "2000");
        Deque<String> waiting = new ArrayDeque<>(List.of(
                "sharp-tally draft sqlite:" + DEMO + "old.db h2:" + DEMO + "new --out drafted.yaml",
                "sharp-tally compare sqlite:" + DEMO + "old.db h2:" + DEMO + "new --runs 'other runs'",
                "sharp-tally show --runs 'other runs' --table station --select 'some of them.jsonl'",
                "sharp-tally compare --sheet " + DEMO + "tide.yaml",
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
                .anyMatch(c -> c.startsWith("sharp-tally compare --sheet drafted.yaml"))
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
}
