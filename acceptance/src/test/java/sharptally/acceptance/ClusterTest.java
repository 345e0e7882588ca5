package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.concurrent.TimeUnit;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.EnabledIfSystemProperty;
import org.junit.jupiter.api.io.TempDir;

/** What a cluster finds is what the local program finds, row by row. */
@InTurn(0)
class ClusterTest {
    private static final ObjectMapper JSON = new ObjectMapper();

    @TempDir
    Path folder;

    private static long seed() {
        long seed = Seed.next();
        System.out.println("seed " + seed);
        return seed;
    }

    /** All findings of the latest run by table, but for where in a file a row stands, which a cluster does not know. */
    private static Map<String, List<String>> found(Tool tool, List<String> tables) throws Exception {
        Map<String, List<String>> found = new LinkedHashMap<>();
        Path run = tool.latestRun();
        JsonNode told = JSON.readTree(run.resolve("run.json").toFile());
        for (JsonNode match : told.get("matches")) {
            List<String> lines = new ArrayList<>();
            lines.add(match.get("source-rows") + " " + match.get("target-rows") + " " + match.get("same") + " "
                    + match.get("changed") + " " + match.get("missing") + " " + match.get("extra") + " "
                    + match.get("repeated") + " " + match.get("state") + " " + match.get("columns"));
            for (String line :
                    Files.readAllLines(run.resolve(match.get("findings").asText()))) {
                ObjectNode finding = (ObjectNode) JSON.readTree(line);
                finding.remove("at");
                lines.add(finding.toString());
            }
            found.put(match.get("name").asText(), lines);
        }
        assertThat(found.keySet()).containsExactlyInAnyOrderElementsOf(tables);
        return found;
    }

    private static void same(String story, Map<String, List<String>> found, Map<String, List<String>> expected) {
        expected.forEach((table, lines) ->
                assertThat(found.get(table)).as(story + " table " + table).isEqualTo(lines));
    }

    @Test
    void randomTablesAreComparedAsHere() throws Exception {
        long seed = seed();
        LakeTables tables = new LakeTables(folder, new Random(seed));
        int count = Boolean.getBoolean("sharptally.all") ? 16 : 8;
        for (int i = 0; i < count; i++) {
            tables.add("t" + i, 40 + 60 * (i % 7));
        }
        Tool tool = new Tool(folder);
        Tool.Result here = tool.run("compare", "--job", tables.job("parquet").toString(), "--method", "stream");
        assertThat(here.code()).as(here.all()).isEqualTo(1);
        Map<String, List<String>> expected = found(tool, tables.names());
        try (Cluster cluster = Cluster.local(folder)) {
            Tool.Result there = cluster.run(
                    tool, List.of("compare", "--job", tables.job("spark").toString(), "--workers", "2"));
            assertThat(there.code()).as("seed " + seed + there.all()).isEqualTo(1);
            assertThat(there.err()).as("seed " + seed).isEmpty();
            same("seed " + seed, found(tool, tables.names()), expected);
            // The same, kept in a store of the cluster: stopped, resumed as is proposed, and brought from there.
            Tool.Result stopped = cluster.run(
                    tool,
                    List.of(
                            "compare",
                            "--job",
                            tables.job("spark").toString(),
                            "--runs",
                            folder.toUri() + "store",
                            "--stop-after-findings",
                            "1"));
            assertThat(stopped.code()).as("seed " + seed + stopped.all()).isEqualTo(5);
            Matcher next = Pattern.compile("next {2}sharp-tally (compare --resume (\\S+) --on '(.*)')")
                    .matcher(stopped.out());
            assertThat(next.find()).as(stopped.out()).isTrue();
            assertThat(next.group(3)).isEqualTo(cluster.master());
            Tool.Result kept = cluster.run(tool, List.of("compare", "--resume", next.group(2)));
            assertThat(kept.code()).as("seed " + seed + kept.all()).isEqualTo(1);
            assertThat(kept.out()).contains("run " + folder.toUri() + "store/").doesNotContain("sharp-tally-runs-");
            Path store = folder.resolve("store");
            try (Stream<Path> runs = Files.list(store)) {
                Path run = runs.findFirst().orElseThrow();
                Files.move(run, folder.resolve("sharp-tally-runs").resolve(run.getFileName() + "-brought"));
                same("seed " + seed + " brought", found(tool, tables.names()), expected);
                assertThat(tool.run("show").code()).isZero();
            }
        }
    }

    /** A database is read by its executors, in ranges where it finds rows by the key. */
    @Test
    void aLakeIsHeldAgainstADatabaseAndTwoDatabasesAgainstEachOther() throws Exception {
        long seed = seed();
        Random random = new Random(seed);
        LakeTables tables = new LakeTables(folder, random);
        for (int i = 0; i < 8; i++) {
            tables.add("t" + i, i < 2 ? 6_000 : 90);
        }
        Database target = new Database(Database.Kind.POSTGRESQL, folder, "lake_target");
        target.execute(tables.ofPostgres());
        Database other = new Database(Database.Kind.POSTGRESQL, folder, "lake_other");
        other.execute(tables.ofPostgres());
        for (String table : tables.names()) {
            other.execute("DELETE FROM " + table + " WHERE ctid IN (SELECT ctid FROM " + table
                    + " ORDER BY random() LIMIT 5)");
        }
        Tool tool = new Tool(folder);
        Tool.Result here = tool.run(
                "compare", "--job", tables.job("parquet", target.address()).toString(), "--method", "stream");
        assertThat(here.code()).as(here.all()).isEqualTo(1);
        Map<String, List<String>> expected = found(tool, tables.names());
        String[] databases = {"compare", target.address(), other.address(), "--workers", "3"};
        Tool.Result both = tool.run(databases);
        assertThat(both.code()).as(both.all()).isEqualTo(1);
        Map<String, List<String>> ofDatabases = found(tool, tables.names());
        try (Cluster cluster = Cluster.local(folder)) {
            Tool.Result there = cluster.run(
                    tool,
                    List.of(
                            "compare",
                            "--job",
                            tables.job("spark", target.address()).toString(),
                            "--workers",
                            "3"));
            assertThat(there.code()).as("seed " + seed + there.all()).isEqualTo(1);
            same("seed " + seed, found(tool, tables.names()), expected);
            Tool.Result sums = cluster.run(
                    tool,
                    List.of(
                            "compare",
                            "--job",
                            tables.job("spark", target.address()).toString(),
                            "--workers",
                            "3",
                            "--method",
                            "checksum"));
            assertThat(sums.code()).as("seed " + seed + sums.all()).isEqualTo(1);
            same("seed " + seed + " checksums", found(tool, tables.names()), expected);
            Tool.Result apart = cluster.run(tool, List.of(databases));
            assertThat(apart.code()).as("seed " + seed + apart.all()).isEqualTo(1);
            same("seed " + seed, found(tool, tables.names()), ofDatabases);
        }
    }

    /** Executors are killed, tasks are done twice at once, and the driver dies: what is found is found once. */
    @Test
    @EnabledIfSystemProperty(named = "sharptally.all", matches = "true")
    void whateverDiesOfACluster() throws Exception {
        long seed = seed();
        LakeTables tables = new LakeTables(folder, new Random(seed));
        for (int i = 0; i < 6; i++) {
            tables.add("t" + i, 20_000);
        }
        Tool tool = new Tool(folder);
        Tool.Result here = tool.run("compare", "--job", tables.job("parquet").toString(), "--method", "stream");
        assertThat(here.code()).as(here.all()).isEqualTo(1);
        Map<String, List<String>> expected = found(tool, tables.names());
        List<String> command = List.of("compare", "--job", tables.job("spark").toString());
        String[] eager = {
            "spark.speculation true",
            "spark.speculation.interval 100ms",
            "spark.speculation.multiplier 1.01",
            "spark.speculation.quantile 0.1",
            "spark.speculation.minTaskRuntime 0ms"
        };
        try (Cluster cluster = Cluster.standalone(folder, 2)) {
            Process run = cluster.begin(tool, command, eager);
            int killed = 0;
            while (run.isAlive() && killed < 3) {
                killed += cluster.killExecutor() ? 1 : 0;
                run.waitFor(4, TimeUnit.SECONDS);
            }
            assertThat(run.waitFor())
                    .as(Files.readString(folder.resolve("begun.log")))
                    .isEqualTo(1);
            assertThat(killed).isPositive();
            same("seed " + seed, found(tool, tables.names()), expected);

            Path before = tool.latestRun();
            Process driver = cluster.begin(tool, command);
            while (tool.latestRun().equals(before) || !hasJoined(tool.latestRun())) {
                assertThat(driver.isAlive())
                        .as(Files.readString(folder.resolve("begun.log")))
                        .isTrue();
                Thread.sleep(50);
            }
            driver.descendants().forEach(ProcessHandle::destroyForcibly);
            driver.destroyForcibly();
            driver.waitFor();
            Path half = tool.latestRun();
            Tool.Result resumed = cluster.run(tool, List.of("compare", "--resume", half.toString()));
            assertThat(resumed.code()).as(resumed.all()).isEqualTo(1);
            assertThat(tool.latestRun()).isEqualTo(half);
            same("seed " + seed, found(tool, tables.names()), expected);
        }
    }

    /** A folder is there a moment before its journal is. */
    private static boolean hasJoined(Path run) throws IOException {
        Path journal = run.resolve("journal.jsonl");
        return Files.exists(journal) && Files.readString(journal).contains("\"joined\"");
    }

    /** As Spark itself writes them. */
    @Test
    @EnabledIfSystemProperty(named = "sharptally.all", matches = "true")
    void formatsOfALake() throws Exception {
        Path table = folder.resolve("reading");
        try (Connection duck = DriverManager.getConnection("jdbc:duckdb:");
                Statement statement = duck.createStatement()) {
            statement.execute(
                    "CREATE TABLE t AS SELECT i::BIGINT AS id, CASE i % 4 WHEN 0 THEN NULL WHEN 1 THEN '' WHEN 2"
                            + " THEN 'a \"gauge\", by the sea' ELSE 'two' || chr(10) || 'lines' END AS remark,"
                            + " (i / 8.0)::DECIMAL(9,3) AS level, i * 0.5::DOUBLE AS pressure, DATE '2026-01-01' + i::INTEGER AS day,"
                            + " TIMESTAMPTZ '2026-01-01 00:00:00Z' + to_seconds(i) AS at, i % 2 = 0 AS good FROM range(300) r(i)");
            statement.execute("COPY t TO '" + table + "' (FORMAT parquet)");
            statement.execute("UPDATE t SET remark = 'other' WHERE id = 77");
            statement.execute("COPY t TO '" + table + "2.parquet' (FORMAT parquet)");
        }
        List<String> formats = List.of("csv", "json", "orc", "avro");
        List<String> convert = new ArrayList<>(
                List.of(Path.of(System.getProperty("java.home"), "bin", "java").toString()));
        for (String opened :
                List.of("java.lang", "java.nio", "java.util", "sun.nio.ch", "java.lang.invoke", "sun.util.calendar")) {
            convert.add("--add-opens=java.base/" + opened + "=ALL-UNNAMED");
        }
        convert.addAll(List.of(
                "-cp",
                Cluster.home() + "/jars/*",
                Path.of("src/test/cluster/Convert.java").toAbsolutePath().toString()));
        convert.add(table.toString());
        convert.addAll(formats);
        Tool.Result converted = Tool.process(folder, "", convert);
        assertThat(converted.code()).as(converted.all()).isZero();
        Tool tool = new Tool(folder);
        try (Cluster cluster = Cluster.local(folder)) {
            for (String format : formats) {
                String one = "spark:" + table + "." + format;
                Tool.Result other =
                        cluster.run(tool, List.of("compare", one, "parquet:reading2.parquet", "--key", "id"));
                assertThat(other.code()).as(format + other.all()).isEqualTo(1);
                assertThat(other.out()).containsPattern("reading2 +300 +300 +299 +1 +0 +0 ");
            }
        }
    }
}
