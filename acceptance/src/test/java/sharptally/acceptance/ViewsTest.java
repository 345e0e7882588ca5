package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.DynamicTest;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestFactory;
import org.junit.jupiter.api.io.TempDir;

/**
 * What commands print of the demo data, against the files in {@code expected}; times and sizes that vary are blotted
 * out. To renew the files after a wanted change, which is to be read then: {@code -Dsharptally.renew=true}.
 */
@InTurn(3)
class ViewsTest {
    private static final Path EXPECTED = Path.of("src", "test", "resources", "expected");
    /** As on a terminal of 80 columns, without its colours. */
    private static final Map<String, String> NARROW =
            Map.of("NO_COLOR", "1", "PAGER", "cat", "JAVA_OPTS", "-Dsharptally.terminals=1 -Dsharptally.columns=80");

    @TempDir
    static Path folder;

    @BeforeAll
    static void compare() {
        Tool tool = Tool.apart(folder);
        tool.run("demo", "--data-only", "--size", "20000");
        tool.run("compare", "--job", "tide-demo/moved.yaml");
        tool.run("compare", "--job", "tide-demo/tide.yaml");
        tool.run("compare", "--job", "tide-demo/tide.yaml");
        tool.run("apply", "--table", "reading,high_water", "--yes");
    }

    private record View(String name, String... arguments) {}

    @TestFactory
    List<DynamicTest> viewsAreAsExpected() {
        String tide = "tide-demo/tide.yaml";
        String moved = "tide-demo/moved.yaml";
        List<View> views = List.of(
                new View("survey", "survey", "h2:tide-demo/new#station"),
                new View("overview", "show", "--view", "result", "--job", moved),
                new View("overview-rechecked", "show", "--view", "result", "--job", tide),
                new View("rows", "show", "--job", tide),
                new View("columns", "show", "--view", "columns", "--job", moved),
                new View("ranges", "show", "--view", "ranges", "--job", tide),
                new View("pivot", "show", "--view", "values", "--job", moved),
                new View("detail", "show", "--view", "detail", "--job", moved),
                new View("totals", "show", "--view", "totals", "--job", moved),
                new View("jsonl", "show", "--format", "jsonl", "--job", moved),
                new View("csv", "show", "--format", "csv", "--job", moved),
                new View("history", "history", "--job", tide),
                new View("recheck", "recheck", "--job", moved),
                new View("script", "script", "--job", moved),
                new View("checksum", "checksum", "sqlite:tide-demo/old.db#calibration", "--range-rows", "100"),
                new View("draft", "draft", "sqlite:tide-demo/old.db", "h2:tide-demo/new", "--out", "drafted.yaml"),
                new View("explain", "compare", "--job", tide, "--explain", "--table", "reading,watch_log"));
        List<DynamicTest> tests = new ArrayList<>();
        for (View view : views) {
            tests.add(DynamicTest.dynamicTest(view.name, () -> check(view.name, Map.of(), view.arguments)));
            if (!view.name.matches("jsonl|csv|recheck|draft|explain")) {
                tests.add(DynamicTest.dynamicTest(
                        view.name + ", 80 columns", () -> check(view.name + "-80", NARROW, view.arguments)));
            }
        }
        return tests;
    }

    private static void check(String name, Map<String, String> environment, String... arguments) throws IOException {
        Tool.Result result = new Tool(folder).with(environment, arguments);
        String shown = "$ sharp-tally " + String.join(" ", arguments) + "\n"
                + result.out()
                + result.err().replaceAll("(?m)^", "! ").replaceAll("! $", "") + "exit " + result.code() + "\n";
        String steady = shown.replaceAll("\\d{4}-\\d\\d-\\d\\dT\\d\\d-\\d\\d-\\d\\d(\\.\\d+)?", "[run]")
                .replaceAll("\\d{4}-\\d\\d-\\d\\dT\\d\\d:\\d\\d:\\d\\dZ", "[now]")
                .replaceAll("(SQLite|H2) \\d[^,\\n]*", "$1 [version]")
                .replaceAll(" *\\d+\\.\\d+ s\\b", " [time]")
                .replaceAll("(?m)^\\* stream +.*\\[time\\]", "* stream [speed]")
                .replaceAll("(method|rows/s|checksum|joined)  +", "$1  ")
                .replace(folder.toString(), "[folder]");
        compare(name, steady);
        if (!environment.isEmpty() && !arguments[0].equals("script")) {
            assertThat(result.lines().stream().filter(line -> line.length() > 80 && !line.startsWith("$")))
                    .as("lines wider than the terminal")
                    .isEmpty();
        }
    }

    private static void compare(String name, String steady) throws IOException {
        Path expected = EXPECTED.resolve(name + ".txt");
        if (Boolean.getBoolean("sharptally.renew")) {
            Files.createDirectories(EXPECTED);
            Files.writeString(expected, steady);
        }
        assertThat(steady).isEqualTo(Files.readString(expected));
    }

    @Test
    void helpOfEveryCommandFitsAScreen() throws IOException {
        Tool tool = new Tool(folder);
        List<String> commands = tool.run("--help").lines().stream()
                .filter(line -> line.matches("  [a-z]+ {2,}.*"))
                .map(line -> line.strip().split(" ")[0])
                .collect(Collectors.toCollection(ArrayList::new));
        assertThat(commands).hasSize(18);
        commands.remove("help");
        for (String command : commands) {
            Tool.Result help = tool.with(NARROW, command, "--help");
            assertThat(help.lines()).as(help.out()).hasSizeLessThan(60).allMatch(line -> line.length() <= 80);
            assertThat(help.out()).contains("Usage: sharp-tally " + command, "Example", "Exit codes:");
            assertThat(tool.with(NARROW, "help", command).out()).isEqualTo(help.out());
            compare("help-" + command, help.out());
        }
    }

    @Test
    void whatIsLongerThanTheScreenGoesThroughThePager() throws Exception {
        assumeTrue(Screenful.isThere() && Files.isExecutable(Path.of("/usr/bin/less")), "no tmux or less");
        String show = Tool.home().resolve("bin/sharp-tally") + " show --job tide-demo/tide.yaml";
        try (Screenful terminal = new Screenful(folder, 80, 24, show + "; echo left $?; sleep 60")) {
            assertThat(terminal.seen("\n:")).contains("instrument > GAUGE").doesNotContain("watch_log");
            terminal.press("G");
            assertThat(terminal.seen("(END)")).contains("watch_log", "17 findings", "next  sharp-tally script");
            terminal.press("q");
            terminal.seen("left 0");
        }
        String all = Tool.home().resolve("bin/sharp-tally") + " show --limit 0 --view values --job tide-demo/tide.yaml";
        try (Screenful terminal = new Screenful(folder, 80, 24, all + "; echo left $?; sleep 60")) {
            terminal.seen("\n:");
            terminal.press("C-c");
            // With an interrupt, the pager throws away what was typed by then.
            Thread.sleep(1_000);
            terminal.press("q");
            terminal.seen("left 0");
        }
        try (Screenful terminal = new Screenful(
                folder, 80, 24, show + " --table station; PAGER=no-such-pager " + show + "; echo left $?; sleep 60")) {
            assertThat(terminal.seen("left 2"))
                    .contains("6 findings", "the pager can't be started: PAGER=no-such-pager");
        }
    }
}
