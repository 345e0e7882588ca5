package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.lang.management.ManagementFactory;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.time.Duration;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The path that a newcomer walks, from the archive, in a folder far from the sources. */
class DemoTest {
    @TempDir
    Path folder;

    @Test
    void demoPlaysTheWholePathWithinAMinute() {
        long began = System.nanoTime();
        Tool.Result demo = Tool.apart(folder).run("demo");
        assertThat(demo.code()).as(demo.all()).isZero();
        // A minute is promised for a machine that has nothing else to do.
        var machine = ManagementFactory.getOperatingSystemMXBean();
        boolean busy = machine.getSystemLoadAverage() > machine.getAvailableProcessors();
        assertThat(Duration.ofNanos(System.nanoTime() - began)).isLessThan(Duration.ofMinutes(busy ? 3 : 1));
        assertThat(demo.out())
                .contains("$ sharp-tally survey --exact sqlite:tide-demo/old.db")
                .contains("$ sharp-tally draft sqlite:tide-demo/old.db h2:tide-demo/new --out tide-demo/drafted.yaml")
                .contains("drafted: 10 pairs of tables, 5 without doubt, 5 to check")
                .contains("datum.datum_mm > DATUM_M: likely at 99 %: the target's numbers are the source's times 0.001")
                .contains("$ sharp-tally totals --job tide-demo/tide.yaml --table reading --by taken_at:year")
                .contains("$ sharp-tally compare --job tide-demo/tide.yaml")
                .contains("different: 0 of 6 tables same; 20 changed, 39 missing, 6 extra")
                .contains("$ sharp-tally show")
                .contains("$ sharp-tally script")
                .contains("64 of 64 keys still differ", "30 findings selected in tide-demo/gap.jsonl")
                .contains("30 changes made and committed", "36 changes made and committed")
                .contains("no longer different: all of")
                .contains("same: every row of 6 tables was compared, nothing differs")
                .contains("$ sharp-tally compare --job tide-demo/moved.yaml")
                .contains("different: 2 of 8 tables same; 9 changed, 1 missing, 1 extra");
        assertThat(demo.err()).isEmpty();
        Tool.Result again = Tool.apart(folder).run("demo", "--size", "1000");
        assertThat(again.code())
                .as("played again over its own folder: " + again.all())
                .isZero();
    }

    @Test
    void plantedDifferencesAreFoundAsDocumentedAndJsonTellsTheSame() throws Exception {
        Tool tool = new Tool(folder);
        tool.run("demo", "--data-only");
        Tool.Result compared = tool.run("compare", "--job", "tide-demo/tide.yaml", "--format", "json");
        assertThat(compared.code()).as(compared.all()).isEqualTo(1);
        JsonNode run = compared.json().get("run");
        assertThat(run.get("state").asText()).isEqualTo("complete");
        List<String> planted = Files.readAllLines(Path.of("..", "docs", "demo.md")).stream()
                .filter(line -> line.startsWith("| `"))
                .map(line -> line.replaceAll("[|`]", " ").strip().split("\\s+"))
                .map(cells -> String.join(" ", List.of(cells).subList(0, 4)))
                .toList();
        assertThat(run.get("matches"))
                .extracting(m -> m.get("source").asText() + " " + m.get("changed") + " " + m.get("missing") + " "
                        + m.get("extra"))
                .containsExactlyElementsOf(planted);
        Path kept = tool.latestRun();
        assertThat(new ObjectMapper().readTree(kept.resolve("run.json").toFile()))
                .isEqualTo(run);
        assertThat(PosixFilePermissions.toString(Files.getPosixFilePermissions(kept)))
                .isEqualTo("rwx------");
    }

    @Test
    void showFiltersAndSaysHowManyMoreThereAre() {
        Tool tool = new Tool(folder);
        tool.run("demo", "--data-only");
        tool.run("compare", "--job", "tide-demo/tide.yaml");
        assertThat(tool.run("show", "--table", "reading", "--limit", "5").out())
                .contains("5 of 45 findings shown, 40 more (--limit 0 shows all)");
        assertThat(tool.run("show", "--table", "GAUGE", "--kind", "changed", "--column", "accuracy_mm")
                        .out())
                .contains("accuracy_mm  9.913   9.914")
                .contains("1 finding")
                .doesNotContain("installed_at");
        assertThat(tool.run("show", "--table", "calibration", "--row", "12,2020-01-13", "--format", "csv")
                        .lines())
                .as("five columns, one of them of two lines")
                .hasSize(7)
                .contains("calibration,missing,\"12,2020-01-13\",offset_mm,double,-10.994,,,,");
    }

    @Test
    void rowThatMovedOnIsNeverOverwrittenByApplyOrScript() throws Exception {
        Tool tool = new Tool(folder);
        tool.run("demo", "--data-only", "--size", "1000");
        Database target = new Database(Database.Kind.H2, folder.resolve("tide-demo"), "new");
        tool.run("compare", "--job", "tide-demo/tide.yaml");
        assertThat(tool.run("script").code()).isZero();
        Path script = tool.latestRun().resolve("script.sql");
        target.execute(
                "UPDATE CALIBRATION SET NOTE = 'mended by hand' WHERE INSTRUMENT_ID = 3 AND NOTE LIKE '%as found'");
        List<String> stations = List.of("CODE", "NAME", "REMARK");
        List<String> before = target.exactRows("STATION", stations);

        Tool.Result applied = tool.run("apply", "--yes");
        assertThat(applied.code()).as(applied.all()).isEqualTo(4);
        assertThat(applied.err())
                .contains("a row had changed since it was compared")
                .contains("INSTRUMENT_ID 3");
        assertThat(applied.err()).doesNotContain("mended by hand");
        Tool.Result ran = target.runScript(script);
        assertThat(ran.code()).isNotZero();
        assertThat(ran.err()).contains("a row had changed since it was compared, so nothing was done");
        assertThat(target.exactRows("STATION", stations)).isEqualTo(before);
    }

    @Test
    void tableThatChangedItsShapeIsRefused() throws Exception {
        Tool tool = new Tool(folder);
        tool.run("demo", "--data-only", "--size", "1000");
        tool.run("compare", "--job", "tide-demo/tide.yaml");
        new Database(Database.Kind.H2, folder.resolve("tide-demo"), "new")
                .execute("ALTER TABLE STATION ADD COLUMN SINCE DATE");
        Tool.Result applied = tool.run("apply", "--yes");
        assertThat(applied.code()).isEqualTo(4);
        assertThat(applied.err()).contains("columns are not what they were");
    }
}
