package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Random;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import sharptally.acceptance.Database.Kind;

/** Night after night, each comparison relying on the one before: what is found is what is there, held against plain maps. */
class SinceRunTest {
    private static final List<String> REGIONS = List.of("north", "south");

    @TempDir
    Path folder;

    private static void refill(Database database, ModelRows rows) throws Exception {
        database.execute("DROP TABLE IF EXISTS reading");
        rows.fill(database, "reading", ModelRows.COLUMNS);
    }

    @ParameterizedTest
    @CsvSource({
        "POSTGRESQL, POSTGRESQL",
        "MARIADB, POSTGRESQL",
        "MYSQL, MARIADB",
        "POSTGRESQL, POSTGRESQL_13",
        "H2, SQLITE"
    })
    void everyNightFindsWhatIsThere(Kind from, Kind to) throws Exception {
        long seed = Seed.next();
        Random random = new Random(seed);
        String story = "seed " + seed + " " + from + " " + to;
        System.out.println(story);
        Database source = new Database(from, folder, "source");
        Database target = new Database(to, folder, "target");
        ModelRows rows = ModelRows.random(random, 4_000, REGIONS);
        while (rows.byId().size() < 1_500) {
            rows = ModelRows.random(random, 4_000, REGIONS);
        }
        ModelRows other = rows;
        for (int i = 0; i < 8; i++) {
            other = other.damaged(random, REGIONS, false);
        }
        Tool tool = new Tool(folder);
        long relied = 0;
        for (int night = 0; night < 4; night++) {
            refill(source, rows);
            refill(target, other);
            Set<String> expected = rows.differences(other, ModelRows.COLUMNS);
            Tool.Result compared = tool.run(
                    "compare",
                    source.address(),
                    target.address(),
                    "--since-run",
                    "latest",
                    "--range-rows",
                    "" + (300 + random.nextInt(5_000)),
                    "--workers",
                    "" + (1 + random.nextInt(2)),
                    "--format",
                    "json");
            assertThat(compared.code()).as(story + compared.all()).isEqualTo(expected.isEmpty() ? 0 : 1);
            JsonNode run = compared.json();
            assertThat(ModelRows.found(tool, run.get("folder").asText()))
                    .as(story + " night " + night)
                    .isEqualTo(expected);
            JsonNode match = run.at("/run/matches/0");
            assertThat(match.get("source-rows").asInt()).isEqualTo(rows.byId().size());
            assertThat(match.get("target-rows").asInt()).isEqualTo(other.byId().size());
            relied += match.get("notes").toString().contains("relied on run") ? 1 : 0;
            assertThat(run.at("/run/notes").toString().contains("there is no earlier run"))
                    .as(story)
                    .isEqualTo(night == 0);
            if (night < 2) {
                // One of both sides, or none, moves on.
                rows = random.nextBoolean() ? rows : rows.damaged(random, REGIONS, false);
                other = random.nextBoolean() ? other : other.damaged(random, REGIONS, false);
            }
        }
        // The last night is like the one before it.
        assertThat(relied).as(story).isGreaterThanOrEqualTo(from == Kind.H2 ? 0 : 1);
    }

    /** What was mended, what was looked at otherwise, and what was written by somebody else is not relied on. */
    @Test
    void nothingElseIsReliedOn() throws Exception {
        Random random = new Random(3);
        ModelRows rows = ModelRows.random(random, 3_000, REGIONS);
        ModelRows other = rows.damaged(random, REGIONS, false);
        while (rows.differences(other, ModelRows.COLUMNS).size() < 5) {
            other = other.damaged(random, REGIONS, false);
        }
        Database source = new Database(Kind.POSTGRESQL, folder, "source");
        Database target = new Database(Kind.POSTGRESQL, folder, "target");
        refill(source, rows);
        refill(target, other);
        Tool tool = new Tool(folder);
        List<String> compare = List.of("compare", source.address(), target.address(), "--method", "checksum");
        assertThat(tool.run(compare.toArray(String[]::new)).code()).isEqualTo(1);
        Path first = tool.latestRun();
        // Rows are put right, and the run is brought up to date: it is relied on as it was when it compared.
        assertThat(tool.run("apply", first.toString(), "--yes").code()).isZero();
        Tool.Result again = tool.run(
                "compare",
                source.address(),
                target.address(),
                "--since-run",
                "sharp-tally-runs/" + first.getFileName());
        assertThat(again.code()).as(again.all()).isZero();
        assertThat(again.out()).contains("nothing of run " + first.getFileName() + " was relied on");
        refill(target, other);
        Tool.Result narrowed = tool.run(
                "compare",
                source.address(),
                target.address(),
                "--where",
                "millis > 0",
                "--since-run",
                "sharp-tally-runs/" + first.getFileName());
        assertThat(narrowed.code()).as(narrowed.all()).isEqualTo(2);
        assertThat(narrowed.err()).contains("looked at other rows");
        Path sums = first.resolve("sums").resolve("reading.json");
        Files.writeString(sums, Files.readString(sums).replaceFirst("\"rows\" ?: ?\\d", "\"rows\" : 9"));
        Tool.Result damaged = tool.run(
                "compare",
                source.address(),
                target.address(),
                "--since-run",
                "sharp-tally-runs/" + first.getFileName());
        assertThat(damaged.code()).as(damaged.all()).isEqualTo(2);
        assertThat(damaged.out()).contains("not as it was written");
    }
}
