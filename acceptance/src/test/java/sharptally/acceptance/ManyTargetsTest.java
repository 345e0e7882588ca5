package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import java.util.Set;
import java.util.TreeSet;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import sharptally.acceptance.Database.Kind;

/** Several targets at once are found as each would be alone, by one reading of the source; held against plain maps. */
@InTurn(1)
class ManyTargetsTest {
    private static final List<String> REGIONS = List.of("north", "south");

    @TempDir
    Path folder;

    private static String[] words(List<String> words, String... more) {
        List<String> all = new ArrayList<>(words);
        all.addAll(Arrays.asList(more));
        return all.toArray(String[]::new);
    }

    @ParameterizedTest
    @CsvSource({
        "SQLITE, SQLITE H2 DUCKDB, auto, 1, 3",
        "POSTGRESQL, POSTGRESQL POSTGRESQL MARIADB H2, auto, 1, 2",
        "POSTGRESQL, POSTGRESQL POSTGRESQL POSTGRESQL, checksum, 2, 2",
        "MARIADB, MARIADB POSTGRESQL, stream, 2, 2",
        "H2, H2 SQLITE, stream, 3, 2"
    })
    void eachIsFoundAsItWouldBeAlone(Kind from, String to, String method, String workers, int rounds) throws Exception {
        for (int round = 0; round < rounds; round++) {
            long seed = Seed.next();
            Random random = new Random(seed);
            String story = "seed " + seed + " " + from + " to " + to + " by " + method;
            System.out.println(story);
            Path own = Files.createDirectory(folder.resolve("round" + round));
            Database source = new Database(from, own, "source" + round);
            List<Database> targets = new ArrayList<>();
            List<List<Set<String>>> expected = new ArrayList<>();
            for (String kind : to.split(" ")) {
                targets.add(new Database(Kind.valueOf(kind), own, "target" + targets.size() + "_" + round));
                expected.add(new ArrayList<>());
            }
            for (int table = 0; table < 3; table++) {
                ModelRows rows = ModelRows.random(random, table == 0 ? 6_000 : 300, REGIONS);
                rows.fill(source, "t" + table, ModelRows.COLUMNS);
                for (int i = 0; i < targets.size(); i++) {
                    if (table == 2 && i == 1) {
                        // A table that one of them lacks.
                        expected.get(i).add(Set.of());
                        continue;
                    }
                    ModelRows other = rows.damaged(random, REGIONS, false);
                    other.fill(targets.get(i), "t" + table, ModelRows.COLUMNS);
                    expected.get(i).add(rows.differences(other, ModelRows.COLUMNS));
                }
            }
            Tool tool = new Tool(own);
            List<String> words = new ArrayList<>(List.of("compare", source.address()));
            targets.forEach(target -> words.add(target.address()));
            words.addAll(List.of("--method", method, "--workers", workers, "--format", "json"));
            Tool.Result compared = tool.run(words.toArray(String[]::new));
            assertThat(compared.code()).as(story + compared.all()).isEqualTo(1);
            JsonNode result = compared.json();
            for (int i = 0; i < targets.size(); i++) {
                JsonNode one = result.get("targets").get(i);
                assertThat(one.get("target").asText()).isEqualTo(targets.get(i).address());
                Set<String> all = new TreeSet<>();
                expected.get(i).forEach(all::addAll);
                assertThat(ModelRows.found(tool, one.get("folder").asText()))
                        .as(story + ", target " + i)
                        .isEqualTo(all);
                assertThat(one.get("exit-code").asInt()).as(story).isEqualTo(all.isEmpty() && i != 1 ? 0 : 1);
            }
            // Whatever all of them read whole was read for all at once.
            if (method.equals("stream")) {
                assertThat(result.get("source-read").get("together").asInt())
                        .as(story + result.get("source-read"))
                        .isGreaterThanOrEqualTo(2);
            }
        }
    }

    /** Rows that a server has handed out, by its own count. */
    private static long read(Database database) throws Exception {
        long last = -1;
        while (true) {
            // Sessions tell of what they did when they are idle, and a moment later.
            Thread.sleep(1_200);
            long now = Long.parseLong(database.values("SELECT coalesce(sum(seq_tup_read + idx_tup_fetch), 0)"
                            + " FROM pg_stat_user_tables WHERE relname = 'reading'")
                    .get(0));
            if (now == last) {
                return now;
            }
            last = now;
        }
    }

    @ParameterizedTest
    @CsvSource({"stream", "checksum", "auto"})
    void theSourceReadsItsRowsOnce(String method) throws Exception {
        Database source = new Database(Kind.POSTGRESQL, folder, "source");
        String rows = "INSERT INTO reading SELECT n, n % 977, 'level ' || n FROM generate_series(1, 120000) AS n";
        List<Database> all = new ArrayList<>(List.of(source));
        for (int i = 0; i < 3; i++) {
            all.add(new Database(Kind.POSTGRESQL, folder, "target" + i));
        }
        for (Database database : all) {
            database.execute(
                    "CREATE TABLE reading (id INTEGER PRIMARY KEY, millis INTEGER, remark VARCHAR(40))",
                    rows,
                    "ANALYZE");
        }
        Tool tool = new Tool(folder);
        long before = read(source);
        List<String> one = List.of("compare", source.address(), all.get(1).address(), "--method", method, "-q");
        assertThat(tool.run(words(one)).code()).isZero();
        long alone = read(source) - before;
        List<String> words = new ArrayList<>(List.of("compare"));
        all.forEach(database -> words.add(database.address()));
        Tool.Result compared = tool.run(words(words, "--method", method, "--format", "json"));
        assertThat(compared.code()).as(compared.all()).isZero();
        long together = read(source) - before - alone;
        System.out.println(
                method + ": " + alone + " rows of the source read for one target, " + together + " for three");
        assertThat(alone).isGreaterThanOrEqualTo(120_000);
        assertThat((double) together).as(compared.all()).isLessThanOrEqualTo(alone * 1.1);
    }

    /** A job file of several targets, one of which is not there: the others are compared, and each goes its own way. */
    @Test
    void ofAJobFileEachGoesItsOwnWay() throws Exception {
        Random random = new Random(7);
        ModelRows rows = ModelRows.random(random, 400, REGIONS);
        Database source = new Database(Kind.SQLITE, folder, "source");
        rows.fill(source, "reading", ModelRows.COLUMNS);
        rows.fill(new Database(Kind.H2, folder, "good"), "reading", ModelRows.COLUMNS);
        Database bad = new Database(Kind.SQLITE, folder, "bad");
        rows.fill(bad, "reading", ModelRows.COLUMNS);
        bad.execute("UPDATE reading SET millis = 123456 WHERE id = (SELECT min(id) FROM reading)");
        Files.writeString(
                folder.resolve("job.yaml"),
                "job: 1\nsource: sqlite:source.db\ntargets: [\"h2:good\", \"sqlite:bad.db\", \"sqlite:gone.db\"]\n"
                        + "keep-runs: 2\nmatches:\n  - source: reading\n");
        Tool tool = new Tool(folder);
        Tool.Result compared = tool.run("compare", "--job", "job.yaml");
        assertThat(compared.code()).as(compared.all()).isEqualTo(3);
        assertThat(compared.out())
                .contains("1 h2:good  same: every row of 1 table was compared", "2 sqlite:bad.db  different")
                .contains("3 sqlite:gone.db  not compared: no such file");
        assertThat(compared.out().lines().filter(line -> line.startsWith("all ")))
                .singleElement()
                .asString()
                .containsSubsequence("same", "different", "not compared");
        String shown = compared.out()
                .lines()
                .filter(line -> line.contains("sharp-tally show"))
                .findFirst()
                .orElseThrow();
        String run = shown.replaceAll(".*show (\\S+).*", "$1");
        assertThat(tool.run("script", run).code()).isZero();
        // The comparison with the target that is gone failed, which says nothing of this one.
        Tool.Result applied = tool.run("apply", run, "--yes");
        assertThat(applied.code()).as(applied.all()).isZero();
        Tool.Result again = tool.run("compare", "--only-failed", run, "-q");
        assertThat(again.code()).as(again.all()).isIn(0, 2);
        for (int i = 0; i < 3; i++) {
            assertThat(tool.run("compare", "--job", "job.yaml", "-q").code()).isEqualTo(3);
        }
        // Two runs of each target are kept, not two of the job file.
        List<String> kept = new ArrayList<>();
        try (var runs = Files.list(folder.resolve("sharp-tally-runs"))) {
            runs.filter(Files::isDirectory)
                    .forEach(one -> kept.add(one.getFileName().toString()));
        }
        assertThat(kept).hasSize(4);
        assertThat(tool.run("totals", "--job", "job.yaml").err()).contains("several targets");
        assertThat(tool.run("compare", "sqlite:source.db", "h2:good", "h2:good").err())
                .contains("named twice");
    }
}
