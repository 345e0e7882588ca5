package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.TreeSet;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.EnumSource;
import sharptally.acceptance.Database.Kind;

/** What is chosen, to which side it is carried, in which style, and what becomes of rows that others change meanwhile. */
@InTurn(1)
class MendingTest extends ThirtyRows {
    @ParameterizedTest
    @EnumSource(value = Kind.class, names = "POSTGRESQL_13", mode = EnumSource.Mode.EXCLUDE)
    void onlyWhatIsChosenIsCarriedOverAndTheRestIsTold(Kind kind) throws Exception {
        fill(kind);
        List<String> before = rows(target);
        Path run = tool.latestRun();

        Tool.Result some = ok("script", "--style", "batch", "--if", "source.level <= 12", "--kind", "changed,missing");
        assertThat(some.out()).contains("inserts  updates  deletes").containsPattern("t +10 +2 +0");
        assertThat(some.out()).contains("left out on request: 18 findings (t 18)");
        assertThat(Files.readString(run.resolve("script.sql"))).contains("left out on request: 18 findings");

        ok("show", "--key-range", "5..16", "--column", "level", "--save-selection", "some.jsonl");
        List<String> selection = Files.readAllLines(folder.resolve("some.jsonl"));
        assertThat(selection).hasSize(6);
        Files.write(folder.resolve("some.jsonl"), selection.subList(0, 4));
        Tool.Result dry = ok("apply", "--selection", "some.jsonl", "--column", "level", "--dry-run");
        assertThat(dry.out()).contains("3 changes made and taken back");
        assertThat(rows(target)).isEqualTo(before);

        Tool.Result applied = ok("apply", "--selection", "some.jsonl", "--column", "level", "--yes");
        assertThat(applied.out()).contains("3 changes made and committed").containsPattern("t +3 +27 +0");
        assertThat(new TreeSet<>(rows(target)).removeAll(before)).isTrue();
        assertThat(rows(target).stream().filter(r -> !before.contains(r))).hasSize(3);
        JsonNode now = new ObjectMapper().readTree(run.resolve("run.json").toFile());
        JsonNode match = now.get("matches").get(0);
        assertThat(List.of(
                        match.get("changed").asInt(),
                        match.get("same").asInt(),
                        match.get("source-rows").asInt()))
                .containsExactly(7, 13, 30);

        ok("apply", "--yes");
        assertThat(rows(target)).isEqualTo(rows(source));
        assertThat(tool.run("compare", source.address(), target.address()).code())
                .isZero();
        assertThat(Files.readAllLines(run.resolve("audit.jsonl")))
                .hasSize(6)
                .allMatch(line -> line.contains("\"user\"") && line.contains("\"did\""));
    }

    @ParameterizedTest
    @EnumSource(value = Kind.class, names = "POSTGRESQL_13", mode = EnumSource.Mode.EXCLUDE)
    void theSourceCanBeMadeLikeTheTargetAndBack(Kind kind) throws Exception {
        fill(kind);
        List<String> before = rows(source);
        Tool.Result scripted = ok("script", "--fix", "source", "--style", kind == Kind.H2 ? "row" : "batch");
        assertThat(scripted.out()).containsPattern("t +10 +10 +10");
        Path run = tool.latestRun();
        Tool.Result ran = source.runScript(run.resolve("script.sql"));
        assertThat(ran.code()).as(ran.all()).isZero();
        assertThat(rows(source)).isEqualTo(rows(target));
        assertThat(ok("recheck").out()).contains("no longer different: all of");
        Tool.Result undone = source.runScript(run.resolve("undo.sql"));
        assertThat(undone.code()).as(undone.all()).isZero();
        assertThat(rows(source)).isEqualTo(before);
    }

    @ParameterizedTest
    @EnumSource(value = Kind.class, names = "POSTGRESQL_13", mode = EnumSource.Mode.EXCLUDE)
    void whatOthersChangedMeanwhileIsNeverOverwritten(Kind kind) throws Exception {
        fill(kind);
        ok("script", "--style", "batch", "--out", "batch.sql");
        ok("script", "--out", "row.sql");
        target.execute(
                quoted(target, "UPDATE [t] SET [level] = 777 WHERE [id] = 18"),
                quoted(target, "DELETE FROM [t] WHERE [id] = 40"));
        List<String> theirs = rows(target);
        for (String script : List.of("batch.sql", "row.sql")) {
            Tool.Result ran = target.runScript(folder.resolve(script));
            assertThat(ran.code()).as(script + ran.all()).isNotZero();
            assertThat(rows(target)).as(script).isEqualTo(theirs);
        }
        Tool.Result refused = tool.run("apply", "--yes");
        assertThat(refused.code()).isEqualTo(4);
        assertThat(refused.err())
                .contains("a row had changed since it was compared")
                .contains("so nothing was done");
        assertThat(rows(target)).isEqualTo(theirs);

        Tool.Result rechecked = tool.run("recheck");
        assertThat(rechecked.code()).isEqualTo(1);
        assertThat(rechecked.out()).containsPattern("t +1 +28 +1").contains("29 of 30 keys still differ");
        ok("apply", "--yes", "--commit-every", "7");
        assertThat(rows(target)).isEqualTo(rows(source));
    }

    /** Tables whose names scripts use for things of their own, or once did. */
    @ParameterizedTest
    @EnumSource(value = Kind.class, names = "POSTGRESQL_13", mode = EnumSource.Mode.EXCLUDE)
    void tablesMayHaveAnyName(Kind kind) throws Exception {
        List<String> names =
                List.of("s", "t", "referrer", "child", "row_check", "row_wrong", "row_count", "place_check", "shape");
        source = new Database(kind, folder, "src");
        target = new Database(kind, folder, "tgt");
        for (Database database : List.of(source, target)) {
            for (String name : names) {
                database.execute(
                        quoted(database, "CREATE TABLE [" + name + "] (id INTEGER PRIMARY KEY, level INTEGER)"),
                        quoted(database, "INSERT INTO [" + name + "] VALUES (1, 1), (2, 2)"));
            }
            if (kind != Kind.DUCKDB) {
                // A deletion looks whether rows of this one refer to it.
                database.execute(quoted(
                        database,
                        "CREATE TABLE user_of (id INTEGER PRIMARY KEY, up INTEGER,"
                                + " FOREIGN KEY (up) REFERENCES [referrer] (id) ON DELETE CASCADE)"));
            }
        }
        for (String name : names) {
            target.execute(
                    quoted(target, "UPDATE [" + name + "] SET level = 9 WHERE id = 1"),
                    quoted(target, "UPDATE [" + name + "] SET id = 3 WHERE id = 2"));
        }
        assertThat(tool.run("compare", source.address(), target.address()).code())
                .isEqualTo(1);
        for (String style : List.of("row", "batch", "merge", "apply")) {
            Tool.Result done = target.change(tool, style);
            assertThat(done.code()).as(style + done.all()).isZero();
            for (String name : names) {
                String all = quoted(target, "SELECT id * 100 + level FROM [" + name + "] ORDER BY id");
                assertThat(target.values(all)).as(style + " " + name).containsExactly("101", "202");
            }
            Tool.Result undone =
                    target.runScript(tool.latestRun().resolve(style.equals("apply") ? "undo-apply.sql" : "undo.sql"));
            assertThat(undone.code()).as(style + undone.all()).isZero();
        }
    }

    /** As many columns as an engine takes, or nearly: guards look at them all. */
    @ParameterizedTest
    @CsvSource({"SQLITE, 1990", "POSTGRESQL, 1590", "MARIADB, 1010", "H2, 1200", "DUCKDB, 1200"})
    void tablesOfVeryManyColumnsAreMendedInEveryStyle(Kind kind, int count) throws Exception {
        source = new Database(kind, folder, "src");
        target = new Database(kind, folder, "tgt");
        String names =
                IntStream.range(0, count).mapToObj(i -> "c" + i + " INTEGER").collect(Collectors.joining(", "));
        String values = IntStream.range(0, count).mapToObj(String::valueOf).collect(Collectors.joining(", "));
        for (Database database : List.of(source, target)) {
            database.execute("CREATE TABLE t (id INTEGER PRIMARY KEY, " + names + ")");
            for (int id = database == source ? 1 : 2; id <= (database == source ? 3 : 4); id++) {
                database.execute("INSERT INTO t VALUES (" + id + ", " + values + ")");
            }
        }
        target.execute("UPDATE t SET c7 = -1, c" + (count - 1) + " = NULL WHERE id < 4");
        List<String> columns = List.of("id", "c0", "c7", "c" + (count - 1));
        List<String> before = target.rows("t", columns);
        assertThat(tool.run("compare", source.address(), target.address()).code())
                .isEqualTo(1);
        for (String style :
                kind == Kind.SQLITE ? List.of("row", "batch", "merge", "apply") : List.of("merge", "apply")) {
            Tool.Result done = target.change(tool, style);
            assertThat(done.code()).as(style + done.err()).isZero();
            assertThat(target.rows("t", columns)).as(style).isEqualTo(source.rows("t", columns));
            Tool.Result undone =
                    target.runScript(tool.latestRun().resolve(style.equals("apply") ? "undo-apply.sql" : "undo.sql"));
            assertThat(undone.code()).as(style + undone.err()).isZero();
            assertThat(target.rows("t", columns)).as(style).isEqualTo(before);
        }
    }

    @Test
    void severalTargetsAreMendedEachByItself() throws Exception {
        fill(Kind.SQLITE);
        Files.copy(folder.resolve("tgt.db"), folder.resolve("twin.db"));
        Files.copy(folder.resolve("src.db"), folder.resolve("other.db"));
        Tool.Result both = ok("apply", "--yes", "--to", "sqlite:twin.db", "--to", "sqlite:tgt.db");
        assertThat(both.out()).contains("30 changes made and committed", "sqlite:twin.db", "sqlite:tgt.db");
        assertThat(rows(target)).isEqualTo(rows(source));
        assertThat(rows(new Database(Kind.SQLITE, folder, "twin"))).isEqualTo(rows(source));
        Tool.Result done = tool.run("apply", "--yes", "--to", "sqlite:other.db");
        assertThat(done.code()).as(done.all()).isZero();
        assertThat(done.out()).contains("already done");
        assertThat(tool.run("apply", "--yes", "--to", "h2:other").err()).contains("not of the engine");
    }

    @Test
    void aColumnsOwnNumbersGoOnBehindRowsThatWereInserted() throws Exception {
        for (Kind kind : List.of(Kind.POSTGRESQL, Kind.H2)) {
            source = new Database(kind, folder, "num_src");
            target = new Database(kind, folder, "num_tgt");
            for (Database database : List.of(source, target)) {
                database.execute(
                        quoted(
                                database,
                                "CREATE TABLE [n] ([id] INTEGER GENERATED BY DEFAULT AS IDENTITY PRIMARY KEY, [v] VARCHAR(9))"),
                        quoted(database, "INSERT INTO [n] ([v]) VALUES ('a'), ('b')"));
            }
            source.execute(quoted(source, "INSERT INTO [n] ([v]) VALUES ('c'), ('d')"));
            ok("compare", source.address(), target.address());
            ok("script");
            Tool.Result ran = target.runScript(tool.latestRun().resolve("script.sql"));
            assertThat(ran.code()).as(ran.all()).isZero();
            target.execute(quoted(target, "INSERT INTO [n] ([v]) VALUES ('e')"));
            assertThat(target.exactRows("n", List.of("id", "v"))).hasSize(5).anyMatch(r -> r.contains("5"));
        }
    }

    @ParameterizedTest
    @EnumSource(value = Kind.class, names = "POSTGRESQL_13", mode = EnumSource.Mode.EXCLUDE)
    void rowsExchangeTheirUniqueValues(Kind kind) throws Exception {
        source = new Database(kind, folder, "uni_src");
        target = new Database(kind, folder, "uni_tgt");
        List<String> columns = List.of("id", "code", "place", "note");
        for (Database database : List.of(source, target)) {
            database.execute(quoted(
                    database,
                    "CREATE TABLE [t] ([id] INTEGER PRIMARY KEY, [code] INTEGER NOT NULL UNIQUE, [place] VARCHAR(9) UNIQUE,"
                            + " [note] VARCHAR(9))"));
            boolean first = database == source;
            database.execute(quoted(
                    database,
                    "INSERT INTO [t] VALUES (1, " + (first ? 10 : 20) + ", 'a', 'x'), (2, "
                            + (first ? 20 : 30) + ", '" + (first ? "c" : "b") + "', 'y'), (3, " + (first ? 30 : 10)
                            + ", '"
                            + (first ? "b" : "c") + "', NULL)"));
        }
        List<String> before = target.exactRows("t", columns);
        ok("compare", source.address(), target.address());
        Path run = tool.latestRun();
        for (String style : List.of("row", "batch")) {
            // DuckDB refuses a unique value that was given up in the same transaction.
            if (kind == Kind.DUCKDB) {
                continue;
            }
            ok("script", "--style", style);
            Tool.Result ran = target.runScript(run.resolve("script.sql"));
            assertThat(ran.code())
                    .as(Files.readString(run.resolve("script.sql")) + ran.all())
                    .isZero();
            assertThat(target.exactRows("t", columns)).isEqualTo(source.exactRows("t", columns));
            Tool.Result undone = target.runScript(run.resolve("undo.sql"));
            assertThat(undone.code()).as(undone.all()).isZero();
            assertThat(target.exactRows("t", columns)).isEqualTo(before);
        }
    }

    /** Whether the server heard of the commit or not: what is said afterwards is so. */
    @ParameterizedTest
    @CsvSource({"POSTGRESQL,true", "POSTGRESQL,false", "MARIADB,true", "MARIADB,false"})
    void afterAConnectionBrokeDuringTheCommitTheOutcomeIsFoundOut(Kind kind, boolean heard) throws Exception {
        fill(kind);
        List<String> before = rows(target);
        String port = target.address().replaceAll(".*:(\\d+)/.*", "$1");
        try (CuttingProxy proxy = CuttingProxy.atCommit(Integer.parseInt(port), heard)) {
            String cut = target.address().replace(":" + port + "/", ":" + proxy.port() + "/");
            Tool.Result applied = tool.run("apply", "--yes", "--to", cut);
            assertThat(applied.err())
                    .as(applied.all())
                    .contains("the commit was not confirmed")
                    .contains("looking whether the changes were made");
            assertThat(applied.code()).as(applied.all()).isEqualTo(heard ? 0 : 3);
            if (!heard) {
                assertThat(applied.err()).contains("not all was done: 30 keys still differ");
            }
            assertThat(rows(target)).isEqualTo(heard ? rows(source) : before);
        }
    }

    @Test
    void chosenRowsBringThoseThatTheyReferTo() throws Exception {
        source = new Database(Kind.SQLITE, folder, "src");
        target = new Database(Kind.H2, folder, "tgt");
        for (Database database : List.of(source, target)) {
            database.execute(
                    "CREATE TABLE coast (id INTEGER PRIMARY KEY, within INTEGER REFERENCES coast)",
                    "CREATE TABLE gauge (id INTEGER PRIMARY KEY, coast_id INTEGER REFERENCES coast)");
        }
        source.execute(
                "INSERT INTO coast VALUES (1, NULL), (2, 1), (3, NULL)", "INSERT INTO gauge VALUES (7, 2), (8, NULL)");
        ok("compare", source.address(), target.address());
        Tool.Result alone = ok("script", "--table", "gauge");
        assertThat(alone.err()).contains("rows that were chosen refer to 2 of coast that were not");
        Tool.Result applied = ok("apply", "--table", "gauge", "--with-parents", "--yes");
        assertThat(applied.out()).containsPattern("COAST +2 +0 +0").containsPattern("GAUGE +2 +0 +0");
        assertThat(applied.out()).contains("left out on request: 1 finding (coast 1)");
        assertThat(target.exactRows("COAST", List.of("ID"))).hasSize(2);
    }

    @Test
    void whatCanNotBeChosenIsRefusedInOneLineAndChangesNothing() throws Exception {
        fill(Kind.SQLITE);
        List<String> before = rows(target);
        Path file = folder.resolve("some.jsonl");
        String head = "{\"selection\":1,\"run\":\"" + tool.latestRun().getFileName() + "\"}\n";
        for (String[] bad : new String[][] {
            {"", "the selection is empty"},
            {"{\"selection\":9}", "not a selection file"},
            {"{\"selection\":1,\"run\":\"2001-01-01T00-00-00\"}", "made from another run"},
            {head + "{\"match\":\"nowhere\",\"key\":{\"id\":1}}", "line 2"},
            {head + "{\"match\":\"t\"}", "neither a key nor a row"},
            {head + "{\"match\":\"t\",", "not a line of a selection"}
        }) {
            Files.writeString(file, bad[0]);
            Tool.Result refused = tool.run("apply", "--yes", "--selection", "some.jsonl");
            assertThat(refused.code()).as(refused.all()).isEqualTo(2);
            assertThat(refused.err()).contains(bad[1]).hasLineCount(1);
        }
        for (String[] bad : new String[][] {
            {"--if", "level", "not a condition"},
            {"--if", "nothing = 1", "no such column"},
            {"--if", "level > high", "not a value of column level"},
            {"--key-range", "5", "not a range of keys"},
            {"--selection", "nowhere.jsonl", "can't read the selection"},
            {"--table", "nowhere", "no such table in this run"},
            {"--commit-every", "0", "--commit-every should be 1 or more"},
            {"--fix", "sideways", "sideways"}
        }) {
            Tool.Result refused = tool.run("apply", "--yes", bad[0], bad[1]);
            assertThat(refused.code()).as(refused.all()).isEqualTo(2);
            assertThat(refused.err()).contains(bad[2]).hasLineCount(1);
        }
        assertThat(rows(target)).isEqualTo(before);
    }

    @Test
    void whatTheTargetWouldRefuseIsTold() throws Exception {
        source = new Database(Kind.SQLITE, folder, "src");
        target = new Database(Kind.H2, folder, "tgt");
        source.execute(
                "CREATE TABLE t (id INTEGER PRIMARY KEY, remark VARCHAR(20))",
                "INSERT INTO t VALUES (1, 'much too long'), (2, NULL)");
        target.execute("CREATE TABLE t (id INTEGER PRIMARY KEY, remark VARCHAR(5) NOT NULL, entered DATE NOT NULL)");
        ok("compare", source.address(), target.address());
        assertThat(ok("script").err())
                .contains("T.REMARK, which holds up to 5 characters: 1 row, first ID 1")
                .contains("T.REMARK, which must not be NULL: 1 row, first ID 2")
                .contains("give no value to ENTERED");
        Tool.Result refused = tool.run("apply", "--yes");
        assertThat(refused.code()).isEqualTo(4);
        assertThat(refused.err()).contains("so nothing was done").contains("[ID 1]");
    }
}
