package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.SQLException;
import java.util.List;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** What a verdict says is so: of tables and columns of one side, of what was left out, of runs that are not the last word. */
@InTurn(1)
class TrustTest {
    private static final ObjectMapper JSON = new ObjectMapper();

    @TempDir
    Path folder;

    private Tool.Result run(int code, String... command) {
        Tool.Result result = new Tool(folder).run(command);
        assertThat(result.code())
                .as(String.join(" ", command) + "\n" + result.all())
                .isEqualTo(code);
        return result;
    }

    private Database filled(Database.Kind kind, String name, String... statements) throws SQLException {
        return new Database(kind, folder, name).execute(statements);
    }

    @ParameterizedTest
    @EnumSource
    void tablesAndColumnsOfOneSideAreDifferencesUnlessLeftOut(Database.Kind kind) throws Exception {
        Database source = filled(
                kind,
                "one",
                "CREATE TABLE gauge (id INT PRIMARY KEY, level INT, depth INT)",
                "INSERT INTO gauge VALUES (1, 2, 3)",
                "CREATE TABLE lost (id INT PRIMARY KEY)",
                "INSERT INTO lost VALUES (1), (2)");
        Database target = filled(
                kind,
                "two",
                "CREATE TABLE gauge (id INT PRIMARY KEY, level INT, height INT)",
                "INSERT INTO gauge VALUES (1, 2, 3)",
                "CREATE TABLE late (id INT PRIMARY KEY)");
        Tool.Result all = run(1, "compare", source.address(), target.address());
        assertThat(all.out().toLowerCase())
                .containsPattern("lost +2 +- +missing table")
                .containsPattern("late +- +0 +extra table")
                .containsPattern("gauge.depth +missing column")
                .containsPattern("gauge.height +extra column")
                .contains("1 missing table, 1 extra table, 1 missing column, 1 extra column");
        JsonNode summary =
                JSON.readTree(new Tool(folder).latestRun().resolve("run.json").toFile());
        assertThat(summary.get("lone")).hasSize(2);
        assertThat(summary.at("/matches/0/missing-columns").get(0).asText()).isEqualToIgnoringCase("depth");
        run(0, "report", "--format", "junit,md");
        assertThat(Files.readString(new Tool(folder).latestRun().resolve("report.xml")))
                .contains("failures=\"3\"", "missing table, 2 rows in the source");
        assertThat(run(1, "compare", source.address(), target.address(), "-q").out())
                .contains("1 missing table");
        Tool.Result left = run(
                0,
                "compare",
                source.address(),
                target.address(),
                "--leave-out-table",
                "l*",
                "--leave-out-column",
                "depth,height");
        assertThat(left.out()).contains("of 3 tables 1 compared, 2 left out on request; 2 columns left out on request");
        run(1, "compare", source.address() + "#lost", target.address());
        run(2, "compare", source.address() + "#nowhere", target.address());
        run(0, "draft", source.address(), target.address(), "--out", "drafted.yaml");
        run(0, "compare", "--job", "drafted.yaml");
    }

    @ParameterizedTest
    @EnumSource(names = {"POSTGRESQL", "H2", "DUCKDB"})
    void tablesOfEqualNameInTwoSchemasAreTwo(Database.Kind kind) throws Exception {
        String own = kind == Database.Kind.H2 ? "PUBLIC" : kind == Database.Kind.DUCKDB ? "main" : "public";
        Database source = filled(kind, "one", "CREATE SCHEMA alt", "CREATE SCHEMA more");
        Database target = filled(kind, "two", "CREATE SCHEMA alt", "CREATE SCHEMA other");
        for (Database side : List.of(source, target)) {
            for (String schema : List.of(own, "alt")) {
                boolean changed = side == target && schema.equals("alt");
                side.execute(
                        "CREATE TABLE " + schema + ".gauge (id INT PRIMARY KEY, up INT REFERENCES " + schema
                                + ".gauge)",
                        "INSERT INTO " + schema + ".gauge VALUES (1, NULL)",
                        "INSERT INTO " + schema + ".gauge VALUES (" + (changed ? 3 : 2) + ", 1)");
            }
        }
        source.execute("CREATE TABLE more.only (id INT)");
        target.execute("CREATE TABLE other.only (id INT)");
        Tool.Result both = run(1, "compare", source.address(), target.address());
        assertThat(both.out().toLowerCase())
                .containsPattern("\ngauge +2 +2 +2 ")
                .containsPattern("\nalt.gauge +2 +2 +1 ")
                .contains("1 of 2 tables same", "1 missing table, 1 extra table");
        assertThat(run(0, "show", "--table", "alt.gauge", "--format", "jsonl")
                        .out()
                        .lines())
                .hasSize(2)
                .allMatch(line -> line.toLowerCase().contains("\"table\":\"alt.gauge\""));
        Tool.Result one = run(0, "compare", source.address() + "?schema=" + own, target.address() + "?schema=" + own);
        assertThat(one.out()).contains("every row of 1 table was compared");
        run(1, "compare", source.address(), target.address(), "--source-schema", own, "--target-schema", "alt");
        // Of the two, the one that differs is changed, and nothing else.
        run(1, "compare", source.address(), target.address());
        run(1, "apply", "--yes");
        assertThat(target.values("SELECT id FROM alt.gauge ORDER BY id")).containsExactly("1", "2");
        assertThat(target.values("SELECT id FROM " + own + ".gauge ORDER BY id"))
                .containsExactly("1", "2");
        assertThat(run(1, "compare", source.address(), target.address()).out()).contains("2 of 2 tables same");
        assertThat(run(2, "compare", source.address() + "?schema=nix", target.address())
                        .err())
                .contains("no table is in a schema of this name");
        Files.writeString(
                folder.resolve("moved.yaml"),
                "job: 1\nsource: \"%s\"\ntarget: \"%s\"\nmatches:\n  - {source: \"more.*\", target: \"other.*\"}\n"
                        .formatted(source.address(), target.address()));
        run(0, "compare", "--job", "moved.yaml");
    }

    @ParameterizedTest
    @EnumSource(names = {"POSTGRESQL", "H2", "MARIADB"})
    void namesThatDifferInLetterCaseAreTwo(Database.Kind kind) throws Exception {
        Database source = new Database(kind, folder, "one");
        Database target = new Database(kind, folder, "two");
        for (Database side : List.of(source, target)) {
            String upper = side.quote("T");
            String lower = side.quote("t");
            side.execute(
                    "CREATE TABLE " + upper + " (id INT PRIMARY KEY)",
                    "CREATE TABLE " + lower + " (id INT PRIMARY KEY)",
                    "INSERT INTO " + lower + " VALUES (" + (side == source ? 1 : 2) + ")");
        }
        assertThat(run(1, "compare", source.address(), target.address()).out())
                .containsPattern("\nT +0 +0 +0 +0 +0 +0")
                .containsPattern("\nt +1 +1 +0 +0 +1 +1");
    }

    @ParameterizedTest
    @EnumSource
    void whatNarrowsIsInTheVerdictAndNoRowIsNoProof(Database.Kind kind) throws Exception {
        String[] gauge = {"CREATE TABLE gauge (id INT PRIMARY KEY)", "INSERT INTO gauge VALUES (1), (2), (3)"};
        Database source = filled(kind, "one", gauge);
        Database target = filled(kind, "two", gauge);
        String jobFile =
                "job: 1\nsource: \"%s\"\ntarget: \"%s\"\nmatches:\n  - {source: gauge, where: {source: \"id < %d\","
                        + " target: \"id < %d\"}}\n";
        Files.writeString(folder.resolve("some.yaml"), jobFile.formatted(source.address(), target.address(), 3, 3));
        assertThat(run(0, "compare", "--job", "some.yaml").out())
                .contains("same: every row asked for of 1 table was compared", "of the source only rows with id < 3");
        Files.writeString(folder.resolve("none.yaml"), jobFile.formatted(source.address(), target.address(), 0, 0));
        assertThat(run(5, "compare", "--job", "none.yaml").out()).contains("NOTHING COMPARED", "nothing was proved");
        Files.writeString(
                folder.resolve("may.yaml"),
                "allow-empty: true\n" + jobFile.formatted(source.address(), target.address(), 0, 0));
        run(0, "compare", "--job", "may.yaml");
        assertThat(run(0, "compare", source.address(), target.address(), "--key-range", "2..9")
                        .out())
                .contains("not all rows were asked for: only keys 2..9");
        run(5, "compare", source.address(), target.address(), "--key-range", "8..9");
        run(0, "compare", source.address(), target.address(), "--key-range", "8..9", "--allow-empty");
    }

    @ParameterizedTest
    @EnumSource
    void uniqueColumnsThatMayBeNullAreNoKey(Database.Kind kind) throws Exception {
        String[] gauge = {
            "CREATE TABLE gauge (code VARCHAR(9) UNIQUE, level INT)",
            "INSERT INTO gauge VALUES (NULL, 1), (NULL, 1), ('a', 2)"
        };
        Database source = filled(kind, "one", gauge);
        Database target = filled(kind, "two", gauge);
        assertThat(run(0, "compare", source.address(), target.address()).out())
                .contains("may be NULL, and so is not taken for one by itself");
    }

    @Test
    void tablesThatRightsMayHideAreNeverMissing() throws Exception {
        Database source =
                filled(Database.Kind.MARIADB, "one", "CREATE TABLE a (id INT PRIMARY KEY)", "CREATE TABLE b (id INT)");
        Database target =
                filled(Database.Kind.MARIADB, "two", "CREATE TABLE a (id INT PRIMARY KEY)", "CREATE TABLE b (id INT)");
        target.lookAtRights();
        String database = target.values("SELECT database()").get(0);
        target.execute("CREATE OR REPLACE USER tide_reader", "GRANT SELECT ON " + database + ".a TO tide_reader");
        String reader = target.address().replace("root@", "tide_reader@");
        Tool.Result hidden = run(5, "compare", source.address(), reader);
        assertThat(hidden.out())
                .contains("whether it is on the other side can't be told")
                .doesNotContain("missing table");
        assertThat(hidden.out()).containsPattern("\nb +0 +\\? +can't be told");
    }

    @Test
    void valuesTooLongForAHashAreRead() throws Exception {
        Database source = new Database(Database.Kind.MARIADB, folder, "one");
        Database target = new Database(Database.Kind.MARIADB, folder, "two");
        for (Database side : List.of(source, target)) {
            side.execute(
                    "CREATE TABLE log (id INT PRIMARY KEY, raw LONGBLOB)",
                    "INSERT INTO log VALUES (1, REPEAT('" + (side == source ? "a" : "b") + "', 9000000)), (2, 'x')");
        }
        assertThat(run(1, "compare", source.address(), target.address(), "--method", "checksum")
                        .out())
                .contains("1 changed");
        run(0, "checksum", source.address() + "#log", "--out", "log.sums");
        run(1, "checksum", target.address() + "#log", "--against", "log.sums");
        Files.writeString(
                folder.resolve("old.sums"),
                Files.readString(folder.resolve("log.sums")).replace("\"common-form\":2", "\"common-form\":1"));
        assertThat(run(2, "checksum", target.address() + "#log", "--against", "old.sums")
                        .err())
                .contains("its values are in form 1, this program's are in form 2");
    }

    @Test
    void bytesOfOtherCharacterSetsAreHashedAsTheLettersThatTheyAre() throws Exception {
        Database server = new Database(Database.Kind.POSTGRESQL, folder, "server");
        server.execute("SELECT 1");
        String base = server.address().replaceFirst("/[^/]*$", "/");
        for (String encoding : List.of("LATIN1", "LATIN9", "UTF8")) {
            String name = "st_" + encoding.toLowerCase() + "_" + Long.toHexString(System.nanoTime());
            server.execute("CREATE DATABASE " + name + " ENCODING '" + encoding
                    + "' LC_COLLATE 'C' LC_CTYPE 'C' TEMPLATE template0");
            String letter = encoding.equals("LATIN1") ? "¤" : "€";
            try (var connection = java.sql.DriverManager.getConnection(
                            "jdbc:postgresql://" + base.replaceFirst(".*@", "") + name + "?user=postgres");
                    var statement = connection.createStatement()) {
                statement.execute("CREATE TABLE sign (id INT PRIMARY KEY, letter TEXT)");
                statement.execute("INSERT INTO sign VALUES (1, '" + letter + "'), (2, 'ä')");
            }
            run(0, "checksum", base + name + "#sign", "--out", encoding + ".sums");
            if (!encoding.equals("LATIN1")) {
                run(1, "checksum", base + name + "#sign", "--against", "LATIN1.sums");
            }
            if (encoding.equals("UTF8")) {
                run(0, "checksum", base + name + "#sign", "--against", "LATIN9.sums");
            }
        }
    }

    @Test
    void hashesThatSayTheSameOfUnequalRowsAreFoundOut() throws Exception {
        Database source = new Database(Database.Kind.POSTGRESQL, folder, "one");
        Database target = new Database(Database.Kind.POSTGRESQL, folder, "two");
        for (Database side : List.of(source, target)) {
            String database = side.values("SELECT current_database()").get(0);
            side.execute(
                    "CREATE TABLE gauge (id BIGINT PRIMARY KEY, level " + (side == source ? "INT" : "BIGINT") + ")",
                    "INSERT INTO gauge SELECT i, i " + (side == source ? "" : "+ 1")
                            + " FROM generate_series(1, 20000) i",
                    "CREATE SCHEMA lying",
                    "CREATE FUNCTION lying.md5(text) RETURNS text IMMUTABLE LANGUAGE sql AS $$ SELECT repeat('0', 32) $$",
                    "ALTER DATABASE " + database + " SET search_path = lying, pg_catalog, public");
        }
        Tool.Result lying =
                run(70, "compare", source.address() + "#gauge", target.address() + "#gauge", "--method", "checksum");
        assertThat(lying.out())
                .containsPattern("gauge +20,000 +20,000 +0 +20,000 ")
                .contains("checksums said the same of rows that differ", "all rows were read instead");
    }

    @Test
    void runsOfOtherTimesAreNotTakenForTheLastWord() throws Exception {
        Database source = filled(
                Database.Kind.SQLITE, "one", "CREATE TABLE g (id INTEGER PRIMARY KEY)", "INSERT INTO g VALUES (1)");
        Database target = filled(Database.Kind.SQLITE, "two", "CREATE TABLE g (id INTEGER PRIMARY KEY)");
        run(1, "compare", source.address(), target.address());
        Path first = new Tool(folder).latestRun();
        Tool.Result bare = new Tool(folder).runWithInput("", "apply", "--yes");
        assertThat(bare.code()).isEqualTo(2);
        assertThat(bare.err()).contains("--yes wants the run named");
        run(3, "compare", "sqlite:gone.db", target.address());
        Tool.Result failed = new Tool(folder).runWithInput("two.db\n", "apply");
        assertThat(failed.code()).as(failed.all()).isEqualTo(4);
        assertThat(failed.err()).contains("the last comparison, begun", "name the run");
        run(1, "compare", source.address(), target.address());
        assertThat(run(4, "apply", first.toString(), "--yes").err())
                .contains("a later run has looked at the same tables");
        assertThat(target.values("SELECT count(*) FROM g")).containsExactly("0");
        assertThat(run(0, "apply", new Tool(folder).latestRun().toString(), "--yes")
                        .out())
                .startsWith("run ");
        assertThat(target.values("SELECT count(*) FROM g")).containsExactly("1");
    }

    @Test
    void historyHoldsOnlyLikeRunsAgainstEachOther() throws Exception {
        String rows = IntStream.rangeClosed(1, 100)
                .mapToObj(i -> "(" + i + ")")
                .reduce((a, b) -> a + ", " + b)
                .orElseThrow();
        Database source = filled(
                Database.Kind.SQLITE, "one", "CREATE TABLE g (id INTEGER PRIMARY KEY)", "INSERT INTO g VALUES " + rows);
        Database target = filled(Database.Kind.SQLITE, "two", "CREATE TABLE g (id INTEGER PRIMARY KEY)");
        run(1, "compare", source.address(), target.address());
        run(1, "compare", source.address(), target.address(), "--key-range", "1..11");
        target.execute("INSERT INTO g VALUES (1)");
        run(1, "compare", source.address(), target.address());
        JsonNode lines = run(0, "history", "--format", "json").json().get("runs");
        assertThat(lines.get(1).path("moved").isMissingNode()
                        || lines.get(1).path("moved").isNull())
                .isTrue();
        assertThat(lines.get(2).at("/moved/gone").asLong()).isEqualTo(1);
        assertThat(lines.get(2).at("/moved/stayed").asLong()).isEqualTo(99);
    }

    @Test
    void findingsAreNeverTwiceNorOthersThanWereWritten() throws Exception {
        Database source = new Database(Database.Kind.POSTGRESQL, folder, "one");
        Database target = new Database(Database.Kind.POSTGRESQL, folder, "two");
        for (Database side : List.of(source, target)) {
            side.execute(
                    "CREATE TABLE tide (day DATE PRIMARY KEY, level INT)",
                    "INSERT INTO tide SELECT date '2020-01-01' + i, i FROM generate_series(1, 600) i",
                    "INSERT INTO tide VALUES ('-infinity', 1), ('infinity', 2)");
        }
        target.execute("UPDATE tide SET level = -1 WHERE level % 50 = 2");
        run(1, "compare", source.address(), target.address(), "--range-rows", "40", "--workers", "2");
        Path findings = new Tool(folder).latestRun().resolve("findings/tide.jsonl");
        List<String> lines = Files.readAllLines(findings);
        assertThat(lines).hasSize(13).doesNotHaveDuplicates();
        Files.writeString(findings, String.join("\n", lines.subList(0, 12)) + "\n");
        assertThat(run(2, "show").err()).contains("not what the run has written", "12 lines; run.json tells of 13");
        assertThat(new Tool(folder).run("script").code()).isEqualTo(2);
    }

    @Test
    void floatingValuesStandForTheirShortestDecimalOrForWhatTheyAre() throws Exception {
        Database source = filled(
                Database.Kind.POSTGRESQL,
                "one",
                "CREATE TABLE m (id INT PRIMARY KEY, x DOUBLE PRECISION)",
                "SELECT setseed(0.42)",
                "INSERT INTO m SELECT i, (random() - 0.5) * 10.0 ^ (i % 40 - 20) FROM generate_series(1, 20000) i",
                "INSERT INTO m SELECT 30000 + i, 2.0 ^ i FROM generate_series(-60, 60) i");
        source.execute(
                "CREATE TABLE d (id INT PRIMARY KEY, x NUMERIC)",
                "INSERT INTO d SELECT id, x::text::numeric FROM m",
                "CREATE TABLE w (id INT PRIMARY KEY, x DOUBLE PRECISION)",
                "CREATE TABLE v (id INT PRIMARY KEY, x BIGINT)",
                "INSERT INTO w VALUES (1, 9007199254740992), (2, 9007199254740992), (3, 9007199254740994)",
                "INSERT INTO v VALUES (1, 9007199254740992), (2, 9007199254740993), (3, 9007199254740994)");
        run(0, "compare", source.address() + "#m", source.address() + "#d");
        assertThat(run(1, "compare", source.address() + "#w", source.address() + "#v")
                        .out())
                .contains("1 changed");
        Database lite = filled(Database.Kind.SQLITE, "lite", "CREATE TABLE m (id INTEGER PRIMARY KEY, x DOUBLE)");
        run(1, "compare", source.address() + "#m", lite.address());
        run(0, "apply", "--yes");
        run(0, "checksum", source.address() + "#m", "--out", "m.sums");
        run(0, "checksum", lite.address() + "#m", "--against", "m.sums");
    }

    @Test
    void yearsBeforeTheCommonEraAreReadAndWrittenEverywhere() throws Exception {
        String days = "(1, '%1$s', '%1$s'), (2, '%2$s', '%3$s')";
        String create = "CREATE TABLE era (id INT PRIMARY KEY, at_day DATE, moment TIMESTAMP)";
        Database postgres = filled(
                Database.Kind.POSTGRESQL,
                "pg",
                create,
                "INSERT INTO era VALUES "
                        + days.formatted("0044-03-15 BC", "0001-02-29 BC", "0001-02-29 10:11:12.5 BC"));
        Database duck = filled(
                Database.Kind.DUCKDB,
                "duck",
                create,
                "INSERT INTO era VALUES "
                        + days.formatted("0044-03-15 (BC)", "0001-02-29 (BC)", "0001-02-29 (BC) 10:11:12.5"));
        Database h2 = filled(
                Database.Kind.H2,
                "h2",
                create,
                "INSERT INTO era VALUES " + days.formatted("-0043-03-15", "0000-02-29", "0000-02-29 10:11:12.5"));
        for (Database other : List.of(duck, h2)) {
            run(0, "compare", postgres.address(), other.address());
            other.execute("DELETE FROM era");
            run(1, "compare", postgres.address(), other.address());
            run(0, "apply", "--yes");
            run(0, "compare", postgres.address(), other.address());
        }
    }

    @Test
    void aRunThatSomebodyWorksOnIsNotGoneOnWith() throws Exception {
        Database source = filled(
                Database.Kind.SQLITE,
                "one",
                "CREATE TABLE g (id INTEGER PRIMARY KEY)",
                "INSERT INTO g VALUES (1), (2), (3)");
        Database target = filled(Database.Kind.SQLITE, "two", "CREATE TABLE g (id INTEGER PRIMARY KEY)");
        run(5, "compare", source.address(), target.address(), "--stop-after-findings", "1", "--range-rows", "1");
        Path run = new Tool(folder).latestRun();
        try (var channel = java.nio.channels.FileChannel.open(
                        run.resolve("lock"),
                        java.nio.file.StandardOpenOption.CREATE,
                        java.nio.file.StandardOpenOption.WRITE);
                var held = channel.lock()) {
            assertThat(held.isValid()).isTrue();
            assertThat(run(4, "compare", "--resume", run.toString()).err())
                    .contains("another process works on this run");
        }
        run(1, "compare", "--resume", run.toString());
    }

    @Test
    void sumsThatCancelAndTextBeyondTheFirstPlaneAreNoDifference() throws Exception {
        Database source = filled(
                Database.Kind.POSTGRESQL,
                "one",
                "CREATE TABLE m (id INT PRIMARY KEY, x DOUBLE PRECISION, t VARCHAR(9))",
                "INSERT INTO m VALUES (1, 1e15, U&'\\FF5E'), (2, 0.225, U&'\\+01F600'), (3, -1e15, 'a'), (4, 0.1, 'b')");
        Database target = filled(
                Database.Kind.H2,
                "two",
                "CREATE TABLE m (id INT PRIMARY KEY, x DOUBLE PRECISION, t VARCHAR(9))",
                "INSERT INTO m VALUES (4, 0.1, 'b'), (3, -1e15, 'a'), (2, 0.225, U&'\\+01F600'), (1, 1e15, U&'\\FF5E')");
        run(0, "totals", source.address(), target.address(), "--figure", "all");
    }
}
