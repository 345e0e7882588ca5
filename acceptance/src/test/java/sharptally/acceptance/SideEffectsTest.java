package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.EnumSource;
import org.junit.jupiter.params.provider.MethodSource;
import org.junit.jupiter.params.provider.ValueSource;
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
        List<String> gauges = target.rows("gauge", List.of("id", "sa", "sb"));
        List<String> visits = target.rows("visit", List.of("id", "sa", "sb"));
        List<String> stations = target.rows("station", List.of("a", "b", "name"));
        assertThat(tool.run("compare", source.address() + "#station", target.address())
                        .code())
                .isEqualTo(1);
        Tool.Result stopped = target.change(tool, style);
        assertThat(stopped.code()).as(stopped.all()).isNotZero();
        if (style.equals("apply")) {
            assertThat(stopped.err())
                    .containsIgnoringCase("2 rows are deleted from")
                    .containsIgnoringCase("visit")
                    .contains("--allow-cascade")
                    .containsIgnoringCase("1 row of gauge deleted, 1 row of visit changed), so nothing was done");
        }
        assertThat(target.rows("gauge", List.of("id", "sa", "sb"))).isEqualTo(gauges);
        assertThat(target.rows("visit", List.of("id", "sa", "sb"))).isEqualTo(visits);
        assertThat(target.rows("station", List.of("a", "b", "name"))).isEqualTo(stations);

        // With the rows that refer among the changes, nothing is left to go by itself, and all comes back.
        assertThat(tool.run("compare", source.address(), target.address()).code())
                .isEqualTo(1);
        Tool.Result whole = target.change(tool, style);
        assertThat(whole.code()).as(whole.all()).isZero();
        assertThat(target.rows("station", List.of("a", "b", "name"))).hasSize(2);
        Tool.Result undone = target.runScript(undo(tool, style));
        assertThat(undone.code()).as(undone.all()).isZero();
        assertThat(target.rows("gauge", List.of("id", "sa", "sb"))).isEqualTo(gauges);
        assertThat(target.rows("visit", List.of("id", "sa", "sb"))).isEqualTo(visits);

        assertThat(tool.run("compare", source.address() + "#station", target.address())
                        .code())
                .isEqualTo(1);
        Tool.Result wanted = target.change(tool, style, "--allow-cascade");
        assertThat(wanted.code()).as(wanted.all()).isZero();
        if (style.equals("apply")) {
            assertThat(wanted.err())
                    .containsIgnoringCase("by the database itself: 1 row of gauge deleted, 1 row of visit changed");
        }
        assertThat(target.values("SELECT id FROM gauge")).containsExactly("10");
    }

    /** Rows of the same table that refer to a row that goes, which nobody chose, stop it; those that were chosen do not. */
    @ParameterizedTest
    @MethodSource("cascading")
    void cascadesWithinOneTableStop(Kind kind, String style) throws Exception {
        Database source = new Database(kind, folder, "src");
        Database target = new Database(kind, folder, "tgt");
        for (Database side : List.of(source, target)) {
            side.execute(
                    "CREATE TABLE station (id INTEGER PRIMARY KEY, above INTEGER,"
                            + " FOREIGN KEY (above) REFERENCES station (id) ON DELETE CASCADE)",
                    "INSERT INTO station VALUES (1, NULL), (2, 1)");
        }
        target.execute(
                "INSERT INTO station VALUES (9, NULL), (5, 9), (6, 5)",
                "INSERT INTO station VALUES (7, 7), (8, 1)",
                "UPDATE station SET above = 8 WHERE id = 9");
        List<String> columns = List.of("id", "above");
        Tool tool = new Tool(folder);
        assertThat(tool.run("compare", source.address(), target.address()).code())
                .isEqualTo(1);
        target.execute("INSERT INTO station VALUES (20, 6)");
        List<String> before = target.rows("station", columns);
        Tool.Result stopped = target.change(tool, style);
        assertThat(stopped.code()).as(stopped.all()).isNotZero();
        assertThat(target.rows("station", columns)).isEqualTo(before);
        target.execute("DELETE FROM station WHERE id = 20");
        before = target.rows("station", columns);
        Tool.Result done = target.change(tool, style);
        assertThat(done.code()).as(done.all()).isZero();
        assertThat(target.rows("station", columns)).isEqualTo(source.rows("station", columns));
        Tool.Result undone = target.runScript(undo(tool, style));
        assertThat(undone.code()).as(undone.all()).isZero();
        assertThat(target.rows("station", columns)).isEqualTo(before);
    }

    @ParameterizedTest
    @ValueSource(strings = {"row", "batch", "merge", "apply"})
    void rowsOfTablesThatInheritAreNotThoseOfTheTable(String style) throws Exception {
        Database source = new Database(Kind.POSTGRESQL, folder, "src");
        Database target = new Database(Kind.POSTGRESQL, folder, "tgt");
        for (Database side : List.of(source, target)) {
            side.execute(
                    "CREATE TABLE reading (id INTEGER PRIMARY KEY, level INTEGER)",
                    "CREATE TABLE reading_old (PRIMARY KEY (id)) INHERITS (reading)",
                    "INSERT INTO reading SELECT n, n FROM generate_series(1, 20) n",
                    "INSERT INTO reading_old SELECT n, n FROM generate_series(11, 30) n");
        }
        target.execute(
                "UPDATE ONLY reading SET level = -1 WHERE id IN (3, 12)",
                "DELETE FROM ONLY reading WHERE id = 13",
                "INSERT INTO reading VALUES (25, 25)",
                "UPDATE reading_old SET level = -2 WHERE id IN (14, 25)",
                "DELETE FROM reading_old WHERE id = 15");
        String all = "SELECT concat(tableoid::regclass, ' ', id, ' ', level) AS r FROM reading ORDER BY r";
        List<String> before = target.values(all);
        Tool tool = new Tool(folder);
        Tool.Result compared = tool.run("compare", source.address(), target.address());
        assertThat(compared.code()).isEqualTo(1);
        assertThat(compared.all())
                .containsPattern("reading +20 +20 +17 +2 +1 +1 ")
                .containsPattern("reading_old +20 +19 +17 +2 +1 +0 ")
                .contains("tables inherit from reading: only the rows of its own");
        Tool.Result done = target.change(tool, style);
        assertThat(done.code()).as(done.all()).isZero();
        assertThat(target.values(all)).isEqualTo(source.values(all));
        assertThat(target.runScript(undo(tool, style)).code()).isZero();
        assertThat(target.values(all)).isEqualTo(before);
    }

    @Test
    void rowsHiddenByPoliciesAreNeverTakenForAll() throws Exception {
        Database source = new Database(Kind.POSTGRESQL, folder, "src");
        Database target = new Database(Kind.POSTGRESQL, folder, "tgt");
        String role = "reader_" + Integer.toHexString(folder.hashCode());
        for (Database side : List.of(source, target)) {
            side.execute(
                    "CREATE TABLE gauge (id INTEGER PRIMARY KEY, level INTEGER)",
                    "INSERT INTO gauge VALUES (1, 1), (2, 2), (3, 3)");
        }
        target.execute(
                "CREATE ROLE " + role + " LOGIN",
                "GRANT ALL ON gauge TO " + role,
                "ALTER TABLE gauge ENABLE ROW LEVEL SECURITY",
                "CREATE POLICY few ON gauge USING (id < 3)",
                "UPDATE gauge SET level = 9 WHERE id = 1");
        String hidden = target.address().replaceFirst("//\\w+@", "//" + role + "@");
        Tool tool = new Tool(folder);
        for (String command : List.of("compare", "totals", "checksum")) {
            Tool.Result seen = command.equals("checksum")
                    ? tool.run(command, hidden + "#gauge", "--out", "sums")
                    : tool.run(command, source.address(), hidden);
            assertThat(seen.code()).as(command + seen.all()).isBetween(3, 5);
            assertThat(seen.all()).as(command).contains("row-level security");
        }
        assertThat(tool.run("compare", source.address(), target.address()).code())
                .isEqualTo(1);
        assertThat(tool.run("script").code()).isZero();
        assertThat(java.nio.file.Files.readString(tool.latestRun().resolve("script.sql")))
                .contains("SET LOCAL row_security = off;");
        Tool.Result applied = tool.run("apply", tool.latestRun().toString(), "--yes", "--to", hidden);
        assertThat(applied.code()).as(applied.all()).isGreaterThan(1);
        assertThat(target.values("SELECT level FROM gauge ORDER BY id")).containsExactly("9", "2", "3");
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
        List<String> before = target.rows("gauge", columns);
        assertThat(tool.run("compare", source.address(), target.address(), "--leave-out-column", "stamp")
                        .code())
                .isEqualTo(1);
        Tool.Result done = target.change(tool, style);
        assertThat(done.code()).as(done.all()).isZero();
        assertThat(target.rows("gauge", columns)).isEqualTo(source.rows("gauge", columns));
        Tool.Result undone = target.runScript(undo(tool, style));
        assertThat(undone.code()).as(undone.all()).isZero();
        assertThat(target.rows("gauge", columns)).isEqualTo(before);
    }

    /** Rows that the target holds although its own constraints would not let them in again. */
    @ParameterizedTest
    @EnumSource(names = {"POSTGRESQL", "MARIADB", "H2"})
    void anUndoThatTheTargetWouldRefuseIsToldBefore(Kind kind) throws Exception {
        Database source = new Database(kind, folder, "src");
        Database target = new Database(kind, folder, "tgt");
        for (Database side : List.of(source, target)) {
            side.execute(
                    "CREATE TABLE station (id INTEGER PRIMARY KEY)",
                    "CREATE TABLE gauge (id INTEGER PRIMARY KEY, station INTEGER)",
                    "INSERT INTO station VALUES (1)",
                    "INSERT INTO gauge VALUES (1, 1), (2, 1)");
        }
        target.execute("INSERT INTO gauge VALUES (3, 99)", "UPDATE gauge SET station = 98 WHERE id = 2");
        String key = "ALTER TABLE gauge ADD CONSTRAINT of_station FOREIGN KEY (station) REFERENCES station (id)";
        target.execute(
                switch (kind) {
                    case POSTGRESQL -> new String[] {key + " NOT VALID"};
                    case H2 -> new String[] {key + " NOCHECK"};
                    default -> new String[] {"SET foreign_key_checks = 0", key};
                });
        List<String> columns = List.of("id", "station");
        List<String> before = target.rows("gauge", columns);
        Tool tool = new Tool(folder);
        assertThat(tool.run("compare", source.address(), target.address()).code())
                .isEqualTo(1);
        for (String more : List.of("--dry-run", "--yes")) {
            Tool.Result refused = tool.run("apply", tool.latestRun().toString(), more);
            assertThat(refused.code()).as(refused.all()).isEqualTo(4);
            assertThat(refused.err()).contains("would not let these changes be taken back", "--allow-no-undo");
            assertThat(target.rows("gauge", columns)).isEqualTo(before);
        }
        Tool.Result done = tool.run("apply", tool.latestRun().toString(), "--yes", "--allow-no-undo");
        assertThat(done.code()).as(done.all()).isZero();
        assertThat(done.out()).contains("(not tried beforehand)");
        assertThat(target.rows("gauge", columns)).isEqualTo(source.rows("gauge", columns));
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
            Tool.Result refused = target.change(tool, style);
            assertThat(refused.code()).as(refused.all()).isEqualTo(4);
            assertThat(refused.err()).contains("gauge", "without transactions", "--allow-partial");
        }
        // What can't be taken back can't be tried.
        Tool.Result tried = tool.run("apply", tool.latestRun().toString(), "--dry-run", "--allow-partial");
        assertThat(tried.code()).as(tried.all()).isEqualTo(4);
        assertThat(target.values("SELECT id FROM gauge")).containsExactly("1", "3");
        assertThat(target.change(tool, "apply", "--allow-partial").code()).isZero();
        assertThat(target.values("SELECT id FROM gauge")).containsExactly("1", "2");
    }

    /** What stays done is said to be, and what is left can be done afterwards. */
    @Test
    void whatStaysDoneWithoutTransactionsIsSaid() throws Exception {
        for (String style : STYLES) {
            Database source = new Database(Kind.MARIADB, folder, "src" + style);
            Database target = new Database(Kind.MARIADB, folder, "tgt" + style);
            for (Database side : List.of(source, target)) {
                side.execute(
                        "CREATE TABLE gauge (id INTEGER PRIMARY KEY, level INTEGER) ENGINE = MyISAM",
                        "INSERT INTO gauge VALUES (1, 1), (2, 2), (3, 3), (4, 4)");
            }
            target.execute("UPDATE gauge SET level = level + 10", "INSERT INTO gauge VALUES (5, 5), (6, 6)");
            source.execute("INSERT INTO gauge VALUES (7, 7)");
            Tool tool = new Tool(folder);
            String[] compare = {"compare", source.address(), target.address()};
            assertThat(tool.run(compare).code()).isEqualTo(1);
            Path run = tool.latestRun();
            // The third of the updates finds another row, behind two deletions and two updates.
            target.execute("UPDATE gauge SET level = 99 WHERE id = 3");
            List<String> before = target.rows("gauge", List.of("id", "level"));
            Tool.Result stopped = target.change(tool, style, "--allow-partial");
            assertThat(stopped.code()).as(style + stopped.all()).isNotZero();
            List<String> after = target.rows("gauge", List.of("id", "level"));
            long left = before.stream().filter(after::contains).count();
            assertThat(after).as(style).anyMatch(row -> row.matches("3 \\| 63 \\| "));
            if (style.equals("apply")) {
                assertThat(left).isEqualTo(2);
                assertThat(stopped.err()).contains("; 4 changes were committed before");
                assertThat(Files.exists(run.resolve("undo-apply.sql"))).isTrue();
            } else {
                assertThat(Files.readString(run.resolve("script.sql")))
                        .contains("NO TRANSACTION", "gauge")
                        .doesNotContain("all of it is done, or nothing");
            }
            if (left < before.size()) {
                assertThat(stopped.all()).as(style).doesNotContain("nothing was done");
            }
            assertThat(tool.run(compare).code()).as(style).isEqualTo(1);
            assertThat(target.change(tool, style, "--allow-partial").code())
                    .as(style)
                    .isZero();
            assertThat(tool.run(compare).code()).as(style).isZero();
        }
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
        Tool.Result done = target.change(tool, style, "--backup", "before_mending");
        if (kind == Kind.H2) {
            assertThat(done.code()).as(done.all()).isZero();
        } else {
            assertThat(done.code()).as(done.all()).isEqualTo(4);
            assertThat(done.err()).contains("too long for this engine", table + "_tally_before_mending");
            assertThat(target.values("SELECT id FROM " + table)).containsExactly("3");
        }
    }
}
