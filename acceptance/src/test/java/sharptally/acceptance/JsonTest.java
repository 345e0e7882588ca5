package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What programs read: one object of every command, whatever becomes of it; and one line where all is quiet. */
class JsonTest {
    private static final String OLD = "sqlite:tide-demo/old.db";
    private static final String NEW = "h2:tide-demo/new";
    private static final String JOB = "tide-demo/tide.yaml";

    @TempDir
    static Path folder;

    @BeforeAll
    static void compare() {
        Tool tool = new Tool(folder);
        tool.run("demo", "--data-only", "--size", "1000");
        assertThat(tool.run("compare", "--job", JOB).code()).isEqualTo(1);
    }

    private static JsonNode json(int code, String... arguments) {
        Tool.Result result = new Tool(folder).run(arguments);
        assertThat(result.code()).as(result.all()).isEqualTo(code);
        JsonNode found = result.json();
        assertThat(result.out()).as("the command names itself").contains("\"command\" : \"" + arguments[0] + "\"");
        return found;
    }

    @Test
    void everyCommandWithAResultPrintsOneObject() {
        assertThat(json(0, "survey", OLD, "--format", "json").get("tables")).hasSize(12);
        assertThat(json(0, "survey", OLD + "#station", "--format", "json").get("columns"))
                .hasSize(7);
        assertThat(json(0, "draft", OLD, NEW, "--out", "drafted.yaml", "--format", "json")
                        .get("matches")
                        .size())
                .isGreaterThan(5);
        assertThat(json(1, "totals", "--job", JOB, "--format", "json").at("/run/totals"))
                .hasSize(6);
        assertThat(json(0, "checksum", OLD + "#station", "--out", "s.sums", "--format", "json")
                        .at("/here/sums"))
                .isNotEmpty();
        assertThat(json(1, "checksum", NEW + "#station", "--against", "s.sums", "--format", "json")
                        .get("differing"))
                .isNotEmpty();
        JsonNode run = json(1, "compare", "--job", JOB, "--format", "json");
        assertThat(run.at("/run/matches")).hasSize(6);
        assertThat(Path.of(run.get("folder").asText())).isRelative();
        assertThat(json(0, "compare", "--job", JOB, "--explain", "--format", "json")
                        .get("explained"))
                .hasSize(6);
        int findings = json(0, "show", "--view", "rows", "--format", "json")
                .get("findings")
                .size();
        assertThat(findings)
                .isEqualTo(new Tool(folder)
                        .run("show", "--view", "rows", "--format", "jsonl")
                        .lines()
                        .size());
        assertThat(json(0, "show", "--view", "columns", "--format", "json").get("columns"))
                .isNotEmpty();
        assertThat(json(0, "show", "--view", "ranges", "--format", "json").get("ranges"))
                .isNotEmpty();
        assertThat(json(0, "show", "--view", "result", "--format", "json").at("/run/by"))
                .isNotNull();
        assertThat(json(1, "recheck", "--format", "json").get("left").asInt()).isEqualTo(findings);
        assertThat(json(0, "script", "--format", "json").get("script").asText()).endsWith("script.sql");
        assertThat(json(1, "apply", "--dry-run", "--table", "reading", "--format", "json")
                        .at("/applied/0/committed")
                        .asBoolean())
                .isFalse();
        assertThat(json(0, "history", "--job", JOB, "--format", "json").get("runs"))
                .hasSizeGreaterThan(1);
    }

    @Test
    void failuresAreObjectsToo() {
        assertThat(json(2, "compare", OLD, "--format", "json").get("message").asText())
                .contains("two databases are needed");
        assertThat(json(3, "survey", "postgresql://u@127.0.0.1:1/x", "--format", "json")
                        .get("message")
                        .asText())
                .contains("refused");
        assertThat(json(2, "show", "--no-such", "--format=json").get("message").asText())
                .contains("Unknown option");
        assertThat(json(4, "apply", "--job", JOB, "--format", "json")
                        .get("message")
                        .asText())
                .contains("not confirmed");
    }

    /** What means nothing together is refused, and says in which option the fault is. */
    @Test
    void combinationsThatMeanNothingAreRefused() {
        for (List<String> command : List.of(
                List.of("compare", "--job", JOB, "--quiet", "--format", "json"),
                List.of("compare", "--job", JOB, "--quiet", "--explain"),
                List.of("show", "--view", "ranges", "--format", "csv"),
                List.of("show", "--view", "result", "--format", "jsonl"),
                List.of("show", "--view", "detail", "--format", "json"),
                List.of("show", "--view", "columns", "--limit", "3"),
                List.of("show", "--save-selection", "x", "--format", "csv"),
                List.of("show", "--view", "result", "--kind", "missing"),
                List.of("show", "--view", "rows", "--all"),
                List.of("totals", "--job", JOB, "--quiet", "--all"),
                List.of("survey", OLD, "--driver-jar", "none.jar"))) {
            Tool.Result result = new Tool(folder).run(command.toArray(new String[0]));
            assertThat(result.code()).as(command + result.all()).isEqualTo(2);
            assertThat(result.err()).as(command.toString()).contains("--");
        }
    }

    @Test
    void quietIsOneLine() throws Exception {
        for (List<String> command : List.of(
                List.of("compare", "--job", JOB, "-q"),
                List.of("totals", "--job", JOB, "-q"),
                List.of("recheck", "-q"),
                List.of("checksum", OLD + "#station", "-q"),
                List.of("apply", "--dry-run", "--table", "reading", "-q"))) {
            Tool.Result result = new Tool(folder).run(command.toArray(new String[0]));
            assertThat(result.lines()).as(command + result.all()).hasSize(1);
            assertThat(result.err()).as(command.toString()).isEmpty();
        }
        assertThat(Files.exists(folder.resolve("none.jar"))).isFalse();
    }

    /** A table is chosen by the name that survey prints, with its schema as well, and left out alike, in every command. */
    @Test
    void tablesAreChosenAlikeEverywhere() {
        Tool tool = new Tool(folder);
        for (String name : List.of("station", "main.station", "st*", "PUBLIC.STATION", "MAIN.st*")) {
            assertThat(json(1, "compare", OLD, NEW, "--table", name, "--runs", "chosen", "--format", "json")
                            .at("/run/matches"))
                    .as(name)
                    .hasSize(1);
            assertThat(tool.run("show", "--runs", "chosen", "--table", name).code())
                    .as(name)
                    .isZero();
        }
        JsonNode others = json(
                1,
                "compare",
                "--job",
                JOB,
                "--leave-out-table",
                "reading,high*",
                "--leave-out-table",
                "watch_log",
                "--format",
                "json");
        assertThat(others.at("/run/matches")).hasSize(3);
        assertThat(tool.run("script", "--leave-out-table", "station").out()).doesNotContain("STATION  ");
        assertThat(tool.run("show", "--table", "main.nothing").err()).contains("no such table in this run");
    }
}
