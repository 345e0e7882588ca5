package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.math.BigDecimal;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Stream;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;
import sharptally.formats.run.RunFolder;

/** Random tables with random edits, through the built program: it finds exactly the edits, mends them, and undoes. */
@InTurn(1)
class RandomTableOracleTest {
    private static final int ROUNDS = Integer.getInteger("sharptally.rounds", 1);

    @TempDir
    Path folder;

    static Stream<Arguments> pairs() {
        return Database.Kind.pairs();
    }

    @ParameterizedTest
    @MethodSource("pairs")
    void findsExactlyTheEditsMendsAndUndoesThem(Database.Kind from, Database.Kind to) throws Exception {
        long seed = Seed.next();
        for (int round = 0; round < ROUNDS; round++) {
            System.out.println("seed " + (seed + round) + " " + from + " " + to);
            Random random = new Random(seed + round);
            Path here = java.nio.file.Files.createDirectory(folder.resolve("round" + round));
            RandomTable table = new RandomTable(random, from, to);
            Database source = new Database(from, here, "source");
            Database target = new Database(to, here, "target");
            table.create(source, table.source);
            table.create(target, table.target);
            play(table, source, target, new Tool(here), "seed " + (seed + round) + " " + table, random.nextBoolean());
        }
    }

    private static void play(
            RandomTable table, Database source, Database target, Tool tool, String story, boolean byClient)
            throws Exception {
        List<String> compare = new ArrayList<>(List.of("compare", source.address(), target.address()));
        if (!table.declaredKey && !table.key.isEmpty()) {
            // A name may itself hold a comma or a quote, so each has an option of its own.
            table.key.forEach(c -> compare.addAll(List.of("--key", table.columns.get(c))));
        }
        String[] command = compare.toArray(new String[0]);
        boolean differs = table.expected.values().stream().anyMatch(c -> !c.isEmpty())
                || table.expected.keySet().stream().anyMatch(k -> !k.matches("(missing|extra) rows 0"));

        Tool.Result compared = tool.run(command);
        assertThat(compared.code()).as(story + "\n" + compared.all()).isEqualTo(differs ? 1 : 0);
        assertThat(findings(tool, table)).as(story).isEqualTo(table.expected);

        everyMethodFindsTheSame(table, source, target, compare, tool, story);
        compare.addAll(List.of("--method", "stream"));
        assertThat(tool.run(compare.toArray(new String[0])).code()).isEqualTo(differs ? 1 : 0);
        int ranges = Ranges.addUpTo(
                RunFolder.open(tool.latestRun()), source, target, tool.folder(), new Random(story.hashCode()));
        System.out.println(ranges + " ranges, each by itself");

        List<String> before = target.exactRows("t", table.columns);
        String style = story.hashCode() % 2 == 0 ? "batch" : "row";
        Tool.Result scripted = tool.run("script", "--style", style);
        assertThat(scripted.code()).as(story + "\n" + scripted.all()).isZero();
        Path run = tool.latestRun();
        if (byClient) {
            Tool.Result ran = target.runScript(run.resolve("script.sql"));
            assertThat(ran.code()).as(story + "\n" + run + ran.all()).isZero();
            Tool.Result rechecked = tool.run("recheck");
            assertThat(rechecked.code()).as(story + "\n" + rechecked.all()).isZero();
        } else {
            Tool.Result applied = tool.run("apply", "--yes");
            assertThat(applied.code()).as(story + "\n" + applied.all()).isZero();
        }

        Tool.Result again = tool.run(command);
        assertThat(again.code()).as(story + "\n" + again.all()).isZero();
        if (source.kind() == target.kind() && target.kind().ordinal() <= Database.Kind.H2.ordinal()) {
            assertThat(source.rowsNotInBoth(target, "t")).as(story).isZero();
        }

        Tool.Result undone = target.runScript(run.resolve("undo.sql"));
        assertThat(undone.code()).as(story + "\n" + run + undone.all()).isZero();
        assertThat(target.exactRows("t", table.columns)).as(story).isEqualTo(before);
    }

    /** Methods that can't be used must say so; small ranges and several workers must not change what is found. */
    private static void everyMethodFindsTheSame(
            RandomTable table, Database source, Database target, List<String> compare, Tool tool, String story)
            throws Exception {
        List<List<String>> ways = new ArrayList<>();
        ways.add(List.of("--method", "stream", "--range-rows", "40", "--workers", "3"));
        if (source.isOnServer() && target.isOnServer()) {
            ways.add(List.of("--method", "checksum", "--range-rows", "50", "--workers", "2"));
        }
        if (source.kind() == target.kind()) {
            ways.add(List.of("--method", "joined"));
        }
        Set<String> used = new TreeSet<>();
        for (List<String> way : ways) {
            List<String> command = new ArrayList<>(compare);
            command.addAll(way);
            Tool.Result result = tool.run(command.toArray(new String[0]));
            if (result.code() == 2 && result.all().contains("can't compare by method")) {
                continue;
            }
            used.add(way.get(1));
            assertThat(result.code()).as(story + way + result.all()).isLessThan(2);
            assertThat(findings(tool, table)).as(story + way + result.all()).isEqualTo(table.expected);
        }
        boolean servers = source.kind().like() == Database.Kind.POSTGRESQL && source.kind() == target.kind();
        if (servers && table.declaredKey) {
            assertThat(used).as(story).contains("checksum");
        }
        if (servers && table.declaredKey) {
            joinedInOneDatabase(table, source, tool, story);
        }
    }

    private static void joinedInOneDatabase(RandomTable table, Database source, Tool tool, String story)
            throws Exception {
        source.execute("ALTER TABLE t RENAME TO kept", "CREATE SCHEMA moved");
        table.create(source, table.target);
        source.execute("ALTER TABLE t SET SCHEMA moved", "ALTER TABLE kept RENAME TO t");
        Tool.Result result = tool.run(
                "compare",
                source.address() + "#public.t",
                source.address() + "#moved.t",
                "--method",
                "joined",
                "--range-rows",
                "60");
        assertThat(result.code()).as(story + result.all()).isLessThan(2);
        assertThat(findings(tool, table)).as(story + result.all()).isEqualTo(table.expected);
        source.execute("DROP SCHEMA moved CASCADE");
    }

    private static Map<String, Set<String>> findings(Tool tool, RandomTable table) throws Exception {
        Tool.Result shown = tool.run("show", "--format", "jsonl");
        assertThat(shown.code()).as(shown.all()).isZero();
        FoundRows rows = FoundRows.of(
                shown.out(),
                table.key.stream().map(table.columns::get).toList(),
                (i, value) -> text(value, table.types.get(table.key.get(i))));
        if (table.key.isEmpty()) {
            return Map.of("missing rows " + rows.missing(), Set.of(), "extra rows " + rows.extra(), Set.of());
        }
        Map<String, Set<String>> found = rows.byKey();
        Map<String, Set<String>> inOrder = new LinkedHashMap<>();
        table.expected.keySet().stream().filter(found::containsKey).forEach(k -> inOrder.put(k, found.remove(k)));
        inOrder.putAll(found);
        return inOrder;
    }

    /** A key's value as {@link RandomTable#plain} writes it. */
    private static String text(JsonNode value, RandomTable.Type type) {
        String text = FoundRows.bare(value);
        return switch (type) {
            case DECIMAL -> RandomTable.plain(new BigDecimal(text));
            case BYTES -> RandomTable.plain(Base64.getDecoder().decode(text));
            case TIMESTAMP -> RandomTable.plain(java.time.LocalDateTime.parse(text.replace(' ', 'T')));
            default -> text;
        };
    }
}
