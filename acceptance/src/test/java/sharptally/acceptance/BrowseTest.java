package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import sharptally.acceptance.Database.Kind;

/** The full screen in a terminal of 80 columns and 24 lines, its keys pressed one by one. */
class BrowseTest {
    private static final int WAITS = 300;
    private static final int MILLIS = 100;

    @TempDir
    Path folder;

    private final String socket = "sharp-tally-" + ProcessHandle.current().pid();

    private String tmux(String... arguments) {
        List<String> command = new ArrayList<>(List.of("tmux", "-L", socket));
        command.addAll(List.of(arguments));
        return Tool.process(folder, "", command).out();
    }

    private void press(String... keys) {
        for (String key : keys) {
            tmux("send-keys", "-t", "b", key);
        }
    }

    private String screen(String expected) throws InterruptedException {
        String seen = "";
        for (int i = 0; i < WAITS; i++) {
            seen = tmux("capture-pane", "-p", "-t", "b");
            if (seen.contains(expected)) {
                return seen;
            }
            Thread.sleep(MILLIS);
        }
        throw new AssertionError("'" + expected + "' is not on the screen:\n" + seen);
    }

    @AfterEach
    void end() {
        if (Files.isExecutable(Path.of("/usr/bin/tmux"))) {
            tmux("kill-server");
        }
    }

    @Test
    void rowsAreFoundMarkedAndSaved() throws Exception {
        assumeTrue(Files.isExecutable(Path.of("/usr/bin/tmux")), "tmux is not installed");
        Tool tool = new Tool(folder);
        Database source = new Database(Kind.SQLITE, folder, "src");
        Database target = new Database(Kind.SQLITE, folder, "tgt");
        for (Database database : List.of(source, target)) {
            String from = database == source ? "1" : "1001";
            database.execute(
                    "CREATE TABLE calm (id INTEGER PRIMARY KEY)",
                    "CREATE TABLE reading (id INTEGER PRIMARY KEY, remark TEXT)",
                    "WITH RECURSIVE n(i) AS (SELECT " + from + " UNION ALL SELECT i + 1 FROM n WHERE i < 30000)"
                            + " INSERT INTO reading SELECT i, 'gauge ' || i FROM n");
        }
        target.execute(
                "UPDATE reading SET remark = 'odd \u001b[31m' || id WHERE id > 20000",
                "INSERT INTO reading VALUES (99999, 'trial')");
        assertThat(tool.run("compare", source.address(), target.address()).code())
                .isEqualTo(1);

        String command = Tool.home().resolve("bin/sharp-tally") + " browse --save marked.jsonl";
        tmux("new-session", "-d", "-s", "b", "-x", "80", "-y", "24", "-c", folder.toString(), command);
        assertThat(screen("2 tables")).contains("calm", "reading", "10,000", "1,000");
        press("Down", "Enter");
        assertThat(screen("1 of 11,001")).contains("missing");
        press("End");
        assertThat(screen("11,001 of 11,001")).contains("extra", "99999", "'trial'");
        press("Space", "k", "k", "k");
        assertThat(screen("only changed")).contains("1 of 10,000", "\\u{1b}[31m20001");
        press("PPage", "NPage", "Down", "Space", "Enter");
        assertThat(screen("n/p next")).contains("source  '[gauge ]20", "target  '[odd \\u{1b}");
        press("n", "Space", "Escape", "/");
        screen("search: _");
        press("2", "9", "9", "9", "9", "Enter");
        assertThat(screen("1 of 1")).contains("with '29999'", "gauge 29999");
        press("a", "s");
        screen("4 rows saved");
        press("q", "q");
        List<String> saved = Files.readAllLines(folder.resolve("marked.jsonl"));
        assertThat(saved).hasSize(5).anyMatch(l -> l.contains("99999")).anyMatch(l -> l.contains("29999"));
        assertThat(tool.run("show", "--selection", "marked.jsonl").out()).contains("4 findings");
        Tool.Result piped = tool.run("browse");
        assertThat(piped.code()).isEqualTo(2);
        assertThat(piped.err()).contains("no terminal to browse on");
    }
}
