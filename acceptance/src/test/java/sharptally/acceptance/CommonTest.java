package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import sharptally.acceptance.Database.Kind;

/** What rows that differ have in common, told of real tables: planted in columns that are compared, and in ones that are not. */
class CommonTest {
    private static final int ROWS = 24_000;

    @TempDir
    Path folder;

    /** Stations 1 to 40; of readings, some of a batch did not arrive, none of two stations did, and levels of one region are off. */
    private void fill(Database database, boolean target, long seed) throws Exception {
        List<String> statements = new ArrayList<>(List.of(
                "CREATE TABLE station (id INTEGER PRIMARY KEY, region VARCHAR(4))",
                "CREATE TABLE reading (id INTEGER PRIMARY KEY, station INTEGER REFERENCES station (id), region VARCHAR(4),"
                        + " level DECIMAL(8, 3), batch INTEGER)"));
        Random random = new Random(seed);
        List<String> stations = new ArrayList<>();
        for (int id = 1; id <= 40; id++) {
            if (!target || id != 7 && id != 30) {
                stations.add("(" + id + ", 'R" + id % 5 + "')");
            }
        }
        statements.add("INSERT INTO station VALUES " + String.join(", ", stations));
        List<String> rows = new ArrayList<>();
        for (int id = 1; id <= ROWS; id++) {
            int station = 1 + random.nextInt(40);
            int batch = id / 200;
            int level = random.nextInt(5_000);
            boolean lost = batch >= 50 && batch <= 54 && random.nextInt(10) > 0;
            boolean off = station % 5 == 3 && random.nextInt(10) > 2;
            if (!target || !lost && station != 7 && station != 30) {
                rows.add("(" + id + ", " + station + ", 'R" + station % 5 + "', "
                        + (level + (target && off ? 1 : 0)) / 1000.0 + ", " + batch + ")");
            }
            if (rows.size() == 2_000 || id == ROWS) {
                statements.add("INSERT INTO reading VALUES " + String.join(", ", rows));
                rows.clear();
            }
        }
        if (database.kind().like() == Kind.MARIADB) {
            statements.replaceAll(s -> s.replace("station INTEGER REFERENCES station (id)", "station INTEGER"));
        }
        database.execute(statements.toArray(String[]::new));
    }

    @ParameterizedTest
    @CsvSource({"SQLITE, H2", "POSTGRESQL, POSTGRESQL", "POSTGRESQL, MARIADB"})
    void causesAreTold(Kind from, Kind to) throws Exception {
        long seed = Seed.next();
        String story = "seed " + seed + " " + from + " " + to;
        System.out.println(story);
        Database source = new Database(from, folder, "source");
        Database target = new Database(to, folder, "target");
        fill(source, false, seed);
        fill(target, true, seed);
        Tool tool = new Tool(folder);
        Tool.Result compared = tool.run("compare", source.address(), target.address(), "--leave-out-column", "batch");
        assertThat(compared.code()).as(story + compared.all()).isEqualTo(1);
        Tool.Result json = tool.run("show", "--view", "common", "--format", "json");
        assertThat(json.code()).as(story + json.all()).isZero();
        JsonNode groups = new ObjectMapper().readTree(json.out()).at("/result/common");
        List<String> told = new ArrayList<>();
        for (JsonNode group : groups) {
            for (JsonNode common : group.get("common")) {
                told.add(group.get("match").asText().toLowerCase() + " "
                        + group.get("kind").asText() + ": "
                        + common.get("words").asText().toLowerCase());
                assertThat(common.get("differing").asLong())
                        .isLessThanOrEqualTo(common.get("ofDiffering").asLong());
                assertThat(common.get("same").asLong())
                        .isLessThanOrEqualTo(common.get("ofSame").asLong());
            }
        }
        assertThat(told).as(story).anyMatch(t -> t.equals("reading changed: region = 'r3'"));
        String lost = from == Kind.MARIADB ? "station = 7 or station = 30" : "its row of station is missing as well";
        // Of the rows that did not arrive, more are of the batches than of the stations, or nearly as many.
        assertThat(told).as(story).anyMatch(t -> t.equals("reading missing: " + lost));
        assertThat(told).as(story).anyMatch(t -> t.matches("reading missing: batch from (49|5[01]) to 5[345]"));
        assertThat(told).as(story).noneMatch(t -> t.contains("level"));
        // A report has it from then on, but not where values are hidden, nor of other findings.
        assertThat(report(tool)).as(story).containsIgnoringCase("| region = 'R3' |");
        assertThat(report(tool, "--redact")).as(story).doesNotContain("have in common");
        Tool.Result text = tool.run("show", "--view", "common", "--table", "reading");
        assertThat(text.out()).as(story).contains("they have in common").containsPattern("(?i)batch from");
        target.execute("UPDATE reading SET level = level + 7 WHERE region = 'R3'");
        assertThat(tool.run("recheck").code()).isEqualTo(1);
        assertThat(report(tool)).as(story).doesNotContain("have in common");
    }

    private String report(Tool tool, String... more) throws Exception {
        List<String> command = new ArrayList<>(List.of(
                "report",
                "--format",
                "md",
                "--out-folder",
                folder.resolve("report").toString()));
        command.addAll(List.of(more));
        Tool.Result result = tool.run(command.toArray(String[]::new));
        assertThat(result.code()).as(result.all()).isZero();
        return Files.readString(folder.resolve("report/report.md"));
    }

    /** It is told by values, and of what is there. */
    @Test
    void whatCanNotBeToldIsRefused() throws Exception {
        Database source = new Database(Kind.SQLITE, folder, "source");
        Database target = new Database(Kind.SQLITE, folder, "target");
        for (Database each : List.of(source, target)) {
            each.execute(
                    "CREATE TABLE t (id INTEGER PRIMARY KEY, v TEXT)",
                    "INSERT INTO t VALUES (1, '" + each.name() + "')");
        }
        Tool tool = new Tool(folder);
        assertThat(tool.run("compare", source.address(), target.address()).code())
                .isEqualTo(1);
        assertThat(tool.run("show", "--view", "common").out()).contains("too few rows differ");
        Tool.Result hidden = tool.run("show", "--view", "common", "--redact");
        assertThat(hidden.code()).isEqualTo(2);
        assertThat(hidden.err()).contains("leave out --redact");
        assertThat(tool.run("show", "--view", "common", "--kind", "changed").code())
                .isEqualTo(2);
        // Rows that were not compared are not the same.
        for (List<String> part : List.of(
                List.of("--key-range", "1..2"), List.of("--sample", "100%"), List.of("--changed-since", "id", "1"))) {
            List<String> command = new ArrayList<>(List.of("compare", source.address(), target.address()));
            command.addAll(part);
            assertThat(tool.run(command.toArray(String[]::new)).code())
                    .as("%s", part)
                    .isEqualTo(1);
            Tool.Result untold = tool.run("show", "--view", "common");
            assertThat(untold.code()).as(part + untold.all()).isEqualTo(4);
            assertThat(untold.err()).contains("none of the other rows may be called the same");
        }
        assertThat(tool.run("compare", source.address(), target.address(), "--where", "id > 0")
                        .code())
                .isEqualTo(1);
        assertThat(tool.run("show", "--view", "common").out()).contains("too few rows differ");
        Files.delete(folder.resolve("target.db"));
        Tool.Result gone = tool.run("show", "--view", "common");
        assertThat(gone.code()).as(gone.all()).isEqualTo(3);
    }
}
