package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.EnabledIfSystemProperty;
import org.junit.jupiter.api.io.TempDir;

/** Changes through a real Trino, in tables of a lake that takes them, each statement by itself; scripts by its own client. */
@EnabledIfSystemProperty(named = "sharptally.all", matches = "true")
@InTurn(3)
class TrinoChangesTest {
    private static final Pattern COUNTS = Pattern.compile("(\\d+) changed, (\\d+) missing, (\\d+) extra");
    private static final Pattern MADE = Pattern.compile("; (\\d+) changes were committed before");

    @TempDir
    Path folder;

    private final long seed = Seed.next();
    private final Random random = new Random(seed);
    private final RandomTable table = table();
    private Tool tool;
    private Database source;
    private TrinoTables lake;

    private RandomTable table() {
        RandomTable table = new RandomTable(random);
        while (table.key.isEmpty()
                || !TrinoTables.fits(table)
                || table.expected.size() < 4
                || table.expected.size() > 10
                || table.columns.stream().anyMatch(c -> c.contains("."))) {
            table = new RandomTable(random);
        }
        return table;
    }

    private void begin() throws Exception {
        System.out.println(story());
        tool = new Tool(folder);
        String schema = "s" + Long.toHexString(seed);
        lake = new TrinoTables(Servers.trinoLake(), "lake", schema);
        lake.execute("CREATE SCHEMA lake." + schema);
        source = new Database(Database.Kind.POSTGRESQL, folder, "source");
        table.create(source, table.source);
        lake.create("t", table, table.target);
    }

    private String story() {
        return "seed " + seed + " " + table;
    }

    private Tool.Result compare() throws IOException {
        List<String> command = new ArrayList<>(
                List.of("compare", source.address() + "#t", lake.address() + "#t", "--method", "stream"));
        table.key.forEach(c -> command.addAll(List.of("--key", table.columns.get(c))));
        return tool.run(command.toArray(String[]::new));
    }

    /** How many rows differ. */
    private int different() throws IOException {
        Tool.Result result = compare();
        assertThat(result.code()).as(story() + result.all()).isLessThan(2);
        Matcher counts = COUNTS.matcher(result.out());
        return counts.find()
                ? Stream.of(1, 2, 3)
                        .mapToInt(i -> Integer.parseInt(counts.group(i)))
                        .sum()
                : 0;
    }

    private Map<String, Set<String>> found() throws IOException {
        assertThat(different()).as(story()).isPositive();
        try (Stream<Path> files = Files.list(tool.latestRun().resolve("findings"))) {
            return FilesTest.findings(Files.readString(files.findFirst().orElseThrow()), table);
        }
    }

    private Tool.Result client(Path script) throws IOException {
        List<String> command = new ArrayList<>(Servers.trinoClient());
        command.addAll(List.of("--server", lake.server().replaceFirst(".*@", ""), "--user", "root"));
        command.addAll(List.of("--catalog", "lake", "--schema", lake.schema(), "--file", script.toString()));
        return Tool.process(folder, "", command);
    }

    @Test
    void findingsAreMendedAndTakenBack() throws Exception {
        begin();
        assertThat(found()).as(story()).isEqualTo(table.expected);
        Path run = tool.latestRun();
        Tool.Result refused = tool.run("apply", run.toString(), "--yes");
        assertThat(refused.code()).as(refused.all()).isEqualTo(4);
        assertThat(refused.err()).contains("without transactions", "--allow-partial");
        Tool.Result tried = tool.run("apply", run.toString(), "--dry-run", "--allow-partial");
        assertThat(tried.code()).as(tried.all()).isEqualTo(4);
        Tool.Result staged = tool.run("script", run.toString(), "--style", "merge", "--allow-partial");
        assertThat(staged.code()).as(staged.all()).isEqualTo(4);
        assertThat(found()).as(story()).isEqualTo(table.expected);

        run = tool.latestRun();
        Tool.Result applied = tool.run("apply", run.toString(), "--yes", "--allow-partial");
        assertThat(applied.code()).as(story() + applied.all()).isZero();
        assertThat(different()).as(story()).isZero();
        Tool.Result undone = client(run.resolve("undo-apply.sql"));
        assertThat(undone.code()).as(story() + undone.all()).isZero();
        for (String style : List.of("row", "batch")) {
            assertThat(found()).as(story() + style).isEqualTo(table.expected);
            Tool.Result written = tool.run("script", "--style", style, "--allow-partial");
            assertThat(written.code()).as(story() + written.all()).isZero();
            Path script = tool.latestRun().resolve("script.sql");
            Path undo = tool.latestRun().resolve("undo.sql");
            Tool.Result done = client(script);
            assertThat(done.code()).as(story() + done.all()).isZero();
            assertThat(different()).as(story() + style).isZero();
            // Once more: the first guard stops it.
            assertThat(client(script).code()).as(story() + style).isNotZero();
            Tool.Result back = client(undo);
            assertThat(back.code()).as(story() + back.all()).isZero();
        }
        assertThat(found()).as(story()).isEqualTo(table.expected);
    }

    /** Somebody changes a row meanwhile: it stays as they left it, and what is said to be done is what was done. */
    @Test
    void anIntruderIsLeftAlone() throws Exception {
        begin();
        int all = different();
        Path run = tool.latestRun();
        Tool.Result written = tool.run("script", run.toString(), "--style", "row", "--allow-partial");
        assertThat(written.code()).as(story() + written.all()).isZero();
        // All rows that are to go or to be changed are taken away, but for those of the first statement.
        List<String> statements = Files.readAllLines(run.resolve("script.sql")).stream()
                .filter(line -> line.startsWith("DELETE ") || line.startsWith("UPDATE "))
                .toList();
        if (statements.size() < 2) {
            return;
        }
        String last = statements.get(statements.size() - 1);
        lake.execute("DELETE FROM t " + last.substring(last.indexOf(" WHERE "), last.length() - 1));
        int left = last.startsWith("DELETE ") ? all - 1 : all;
        Tool.Result stopped = tool.run("apply", run.toString(), "--yes", "--allow-partial");
        assertThat(stopped.code()).as(story() + stopped.all()).isEqualTo(4);
        Matcher made = MADE.matcher(stopped.err());
        int said = made.find() ? Integer.parseInt(made.group(1)) : 0;
        assertThat(stopped.all().contains("nothing was done")).as(stopped.all()).isEqualTo(said == 0);
        assertThat(said).as(story() + stopped.all()).isEqualTo(statements.size() - 1);
        assertThat(left - different()).as(story() + stopped.all()).isEqualTo(said);
        assertThat(Files.exists(run.resolve("undo-apply.sql"))).isTrue();
        Tool.Result script = client(run.resolve("script.sql"));
        assertThat(script.code()).as(script.all()).isNotZero();
        assertThat(script.all()).as(script.all()).contains("what this script did before it stays done");
        // What is left is done as the message says.
        assertThat(tool.run("recheck", run.toString()).code()).isLessThan(2);
        assertThat(compare().code()).isEqualTo(1);
        Tool.Result rest = tool.run("apply", tool.latestRun().toString(), "--yes", "--allow-partial");
        assertThat(rest.code()).as(story() + rest.all()).isZero();
        assertThat(different()).as(story()).isZero();
    }
}
