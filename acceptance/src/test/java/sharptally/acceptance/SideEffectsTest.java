package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;
import sharptally.acceptance.Database.Kind;

/** What a database does besides what it is told: it is known before, and stopped or kept from happening. */
class SideEffectsTest {
    private static final List<String> STYLES = List.of("row", "batch", "merge", "apply");

    @TempDir
    Path folder;

    static Stream<Arguments> cascading() {
        return Stream.of(Kind.POSTGRESQL, Kind.MARIADB, Kind.H2)
                .flatMap(kind -> STYLES.stream().map(style -> Arguments.of(kind, style)));
    }

    static Stream<Arguments> setting() {
        return cascading().filter(c -> c.get()[0] != Kind.POSTGRESQL);
    }

    /** Makes the changes in one style; the exit code, and what was said. */
    private static Tool.Result change(Tool tool, Database target, String style, String... more) throws Exception {
        List<String> command = new ArrayList<>(
                style.equals("apply")
                        ? List.of("apply", tool.latestRun().toString(), "--yes")
                        : List.of("script", "--style", style));
        command.addAll(List.of(more));
        Tool.Result done = tool.run(command.toArray(new String[0]));
        return style.equals("apply") || done.code() != 0
                ? done
                : target.runScript(tool.latestRun().resolve("script.sql"));
    }

    private static List<String> rows(Database database, String table, List<String> columns) throws Exception {
        return database.kind() == Kind.H2
                ? database.exactRows(
                        table.toUpperCase(Locale.ROOT),
                        columns.stream().map(c -> c.toUpperCase(Locale.ROOT)).toList())
                : database.exactRows(table, columns);
    }

    private static Path undo(Tool tool, String style) {
        return tool.latestRun().resolve(style.equals("apply") ? "undo-apply.sql" : "undo.sql");
    }

    @ParameterizedTest
    @MethodSource("cascading")
    void rowsThatWouldGoWithOthersStopTheirDeletion(Kind kind, String style) throws Exception {
        Database source = new Database(kind, folder, "src");
        Database target = new Database(kind, folder, "tgt");
        for (Database side : List.of(source, target)) {
            side.execute(
                    "CREATE TABLE station (a INTEGER, b INTEGER, name VARCHAR(20), PRIMARY KEY (a, b))",
                    "CREATE TABLE gauge (id INTEGER PRIMARY KEY, sb INTEGER, sa INTEGER,"
                            + " FOREIGN KEY (sa, sb) REFERENCES station (a, b) ON DELETE CASCADE)",
                    "CREATE TABLE visit (id INTEGER PRIMARY KEY, sa INTEGER, sb INTEGER,"
                            + " FOREIGN KEY (sa, sb) REFERENCES station (a, b) ON DELETE SET NULL)",
                    "INSERT INTO station VALUES (1, 1, 'x'), (1, 2, 'y')",
                    "INSERT INTO gauge VALUES (10, 1, 1)");
        }
        target.execute(
                "INSERT INTO station VALUES (2, 1, 'extra'), (2, 2, 'lone')",
                "INSERT INTO gauge VALUES (20, 1, 2)",
                "INSERT INTO visit VALUES (30, 2, 1)");
        Tool tool = new Tool(folder);
        List<String> gauges = rows(target, "gauge", List.of("id", "sa", "sb"));
        List<String> visits = rows(target, "visit", List.of("id", "sa", "sb"));
        List<String> stations = rows(target, "station", List.of("a", "b", "name"));
        assertThat(tool.run("compare", source.address() + "#station", target.address())
                        .code())
                .isEqualTo(1);
        Tool.Result stopped = change(tool, target, style);
        assertThat(stopped.code()).as(stopped.all()).isNotZero();
        if (style.equals("apply")) {
            assertThat(stopped.err())
                    .containsIgnoringCase("2 rows are deleted from")
                    .containsIgnoringCase("visit")
                    .contains("--allow-cascade");
        }
        assertThat(rows(target, "gauge", List.of("id", "sa", "sb"))).isEqualTo(gauges);
        assertThat(rows(target, "visit", List.of("id", "sa", "sb"))).isEqualTo(visits);
        assertThat(rows(target, "station", List.of("a", "b", "name"))).isEqualTo(stations);

        // With the rows that refer among the changes, nothing is left to go by itself, and all comes back.
        assertThat(tool.run("compare", source.address(), target.address()).code())
                .isEqualTo(1);
        Tool.Result whole = change(tool, target, style);
        assertThat(whole.code()).as(whole.all()).isZero();
        assertThat(rows(target, "station", List.of("a", "b", "name"))).hasSize(2);
        Tool.Result undone = target.runScript(undo(tool, style));
        assertThat(undone.code()).as(undone.all()).isZero();
        assertThat(rows(target, "gauge", List.of("id", "sa", "sb"))).isEqualTo(gauges);
        assertThat(rows(target, "visit", List.of("id", "sa", "sb"))).isEqualTo(visits);

        assertThat(tool.run("compare", source.address() + "#station", target.address())
                        .code())
                .isEqualTo(1);
        Tool.Result wanted = change(tool, target, style, "--allow-cascade");
        assertThat(wanted.code()).as(wanted.all()).isZero();
        assertThat(target.values("SELECT id FROM gauge")).containsExactly("10");
    }

    @ParameterizedTest
    @MethodSource("setting")
    void columnsThatSetThemselvesKeepWhatTheyHold(Kind kind, String style) throws Exception {
        Database source = new Database(kind, folder, "src");
        Database target = new Database(kind, folder, "tgt");
        String stamp = "TIMESTAMP DEFAULT '2001-02-03 04:05:06' ON UPDATE CURRENT_TIMESTAMP";
        for (Database side : List.of(source, target)) {
            side.execute(
                    "CREATE TABLE gauge (id INTEGER PRIMARY KEY, level INTEGER, \n note VARCHAR(9), stamp " + stamp
                            + ")",
                    "INSERT INTO gauge (id, level, note) VALUES (1, 1, 'a'), (2, 2, 'b'), (3, 3, 'c')");
        }
        target.execute(
                "UPDATE gauge SET level = 9, stamp = stamp WHERE id < 3",
                "UPDATE gauge SET note = NULL, stamp = stamp WHERE id = 3");
        Tool tool = new Tool(folder);
        List<String> columns = List.of("id", "level", "note", "stamp");
        List<String> before = rows(target, "gauge", columns);
        assertThat(tool.run("compare", source.address(), target.address(), "--leave-out", "stamp")
                        .code())
                .isEqualTo(1);
        Tool.Result done = change(tool, target, style);
        assertThat(done.code()).as(done.all()).isZero();
        assertThat(rows(target, "gauge", columns)).isEqualTo(rows(source, "gauge", columns));
        Tool.Result undone = target.runScript(undo(tool, style));
        assertThat(undone.code()).as(undone.all()).isZero();
        assertThat(rows(target, "gauge", columns)).isEqualTo(before);
    }

    @Test
    void tablesWithoutTransactionsAreChangedOnRequestAlone() throws Exception {
        Database source = new Database(Kind.MARIADB, folder, "src");
        Database target = new Database(Kind.MARIADB, folder, "tgt");
        source.execute("CREATE TABLE gauge (id INTEGER PRIMARY KEY)", "INSERT INTO gauge VALUES (1), (2)");
        target.execute(
                "CREATE TABLE gauge (id INTEGER PRIMARY KEY) ENGINE = MyISAM", "INSERT INTO gauge VALUES (1), (3)");
        Tool tool = new Tool(folder);
        assertThat(tool.run("compare", source.address(), target.address()).code())
                .isEqualTo(1);
        for (String style : STYLES) {
            Tool.Result refused = change(tool, target, style);
            assertThat(refused.code()).as(refused.all()).isEqualTo(4);
            assertThat(refused.err()).contains("gauge", "without transactions", "--allow-partial");
        }
        assertThat(target.values("SELECT id FROM gauge")).containsExactly("1", "3");
        assertThat(change(tool, target, "apply", "--allow-partial").code()).isZero();
        assertThat(target.values("SELECT id FROM gauge")).containsExactly("1", "2");
    }

    @ParameterizedTest
    @MethodSource("cascading")
    void namesOfKeptRowsAreNeverCut(Kind kind, String style) throws Exception {
        Database source = new Database(kind, folder, "src");
        Database target = new Database(kind, folder, "tgt");
        String table = "g" + "auge".repeat(13);
        for (Database side : List.of(source, target)) {
            side.execute("CREATE TABLE " + table + " (id INTEGER PRIMARY KEY)");
        }
        target.execute("INSERT INTO " + table + " VALUES (3)");
        Tool tool = new Tool(folder);
        assertThat(tool.run("compare", source.address(), target.address()).code())
                .isEqualTo(1);
        Tool.Result done = change(tool, target, style, "--backup", "before_mending");
        if (kind == Kind.H2) {
            assertThat(done.code()).as(done.all()).isZero();
        } else {
            assertThat(done.code()).as(done.all()).isEqualTo(4);
            assertThat(done.err()).contains("too long for this engine", table + "_tally_before_mending");
            assertThat(target.values("SELECT id FROM " + table)).containsExactly("3");
        }
    }
}
