package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import sharptally.acceptance.Database.Kind;

/** The full screen in a terminal of 80 columns and 24 lines, its keys pressed one by one. */
class BrowseTest {
    @TempDir
    Path folder;

    @Test
    void rowsAreFoundMarkedAndSaved() throws Exception {
        assumeTrue(Screenful.isThere(), "tmux is not installed");
        Tool tool = Tool.apart(folder);
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

        String command = Tool.home().resolve("bin/sharp-tally") + " browse --save-selection marked.jsonl";
        try (Screenful terminal = new Screenful(folder, 80, 24, command)) {
            assertThat(terminal.seen("2 tables")).contains("calm", "reading", "10,000", "1,000");
            terminal.press("Down", "Enter");
            assertThat(terminal.seen("1 of 11,001")).contains("missing");
            terminal.press("End");
            assertThat(terminal.seen("11,001 of 11,001")).contains("extra", "99999", "'trial'");
            terminal.press("Space", "f", "f", "f");
            assertThat(terminal.seen("only changed")).contains("1 of 10,000", "\\u{1b}[31m20001");
            terminal.press("PPage", "NPage", "Down", "Space", "Enter");
            assertThat(terminal.seen("n/p next")).contains("source  '[gauge ]20", "target  '[odd \\u{1b}");
            terminal.press("n", "Space", "Escape", "/");
            terminal.seen("search: _");
            terminal.press("ODD \\u001B", "Enter");
            terminal.seen("1 of 10,000");
            terminal.press("/", "2", "9", "9", "9", "9", "Enter");
            assertThat(terminal.seen("1 of 1")).contains("with '29999'", "gauge 29999");
            terminal.press("a", "s");
            terminal.seen("4 rows saved");
            terminal.press("c");
            assertThat(terminal.seen("likely cause")).contains("reading.remark", "10,000");
            terminal.press("q", "?");
            terminal.seen("page up, page down   move by a screen");
            terminal.press("q", "Space", "q", "q");
            terminal.seen("3 marked rows not saved");
            terminal.press("j");
            terminal.seen("2 tables");
            terminal.press("q", "q");
        }
        List<String> saved = Files.readAllLines(folder.resolve("marked.jsonl"));
        assertThat(saved).hasSize(5).anyMatch(l -> l.contains("99999")).anyMatch(l -> l.contains("29999"));
        assertThat(tool.run("show", "--selection", "marked.jsonl").out()).contains("4 findings");
        Tool.Result piped = tool.run("browse");
        assertThat(piped.code()).isEqualTo(2);
        assertThat(piped.err()).contains("no terminal to browse on");
    }

    @Test
    void wideScreenShowsTheRowBesideTheList() throws Exception {
        assumeTrue(Screenful.isThere(), "no tmux");
        Tool tool = new Tool(folder);
        Database source = new Database(Database.Kind.SQLITE, folder, "src");
        Database target = new Database(Database.Kind.SQLITE, folder, "tgt");
        source.execute("CREATE TABLE log (id INTEGER PRIMARY KEY, remark TEXT)", "INSERT INTO log VALUES (1, 'calm')");
        target.execute("CREATE TABLE log (id INTEGER PRIMARY KEY, remark TEXT)", "INSERT INTO log VALUES (1, 'rough')");
        assertThat(tool.run("compare", source.address(), target.address()).code())
                .isEqualTo(1);
        String command = Tool.home().resolve("bin/sharp-tally") + " browse";
        try (Screenful terminal = new Screenful(folder, 140, 24, command)) {
            terminal.seen("1 table");
            terminal.press("Enter");
            assertThat(terminal.seen("1 of 1"))
                    .contains("remark 'calm' \u2192 'rough'", "\u2502", "source  'calm'", "target  'rough'");
            terminal.press("q", "q");
        }
    }
}
