package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** SQLite files that are joined where they are: what is found is what reading them finds, whatever stands in any column. */
@InTurn(3)
class AttachedFilesTest {
    /** Declarations of every affinity and kind; those of one line may stand against each other. */
    private static final List<List<String>> DECLARED = List.of(
            List.of("", "ANY", "SOMETHING"),
            List.of("INTEGER", "INT8", "FLOATING POINT"),
            List.of("NUMERIC", "DECIMAL(8,3)"),
            List.of("REAL", "DOUBLE PRECISION"),
            List.of("TEXT", "VARCHAR(20)", "TEXT COLLATE NOCASE", "CHAR(5) COLLATE RTRIM"),
            List.of("BLOB", "VARBINARY(9)"),
            List.of("BOOLEAN", "BOOL TEXT"),
            List.of("DATE", "DATE TEXT"),
            List.of("TIMESTAMP", "DATETIME", "TIMESTAMP REAL", "TIMESTAMP TEXT", "TIMESTAMP BLOB"),
            List.of("TIME", "TIME TEXT"),
            List.of("UUID", "UUID TEXT"),
            List.of("JSON"),
            List.of("JSON TEXT"));

    private static final List<String> LITERALS = List.of(
            "NULL",
            "0",
            "1",
            "-1",
            "5",
            "0.0",
            "-0.0",
            "1.0",
            "0.5",
            "'0'",
            "'1'",
            "'1.0'",
            "' 1'",
            "''",
            "x''",
            "'a'",
            "'A'",
            "'a '",
            "x'61'",
            "CAST(x'61ff' AS TEXT)",
            "CAST(x'61fe' AS TEXT)",
            "x'61ff'",
            "'a' || char(0) || 'b'",
            "'a' || char(0)",
            "9007199254740992",
            "9007199254740993",
            "9007199254740992.0",
            "1152921504606846976",
            "1152921504606846976.0",
            "9223372036854775807",
            "9223372036854775807.0",
            "-9223372036854775808",
            "-9223372036854775808.0",
            "1e300",
            "9e999",
            "-9e999",
            "1e-320",
            "'9007199254740993'",
            "'1e3'",
            "1000",
            "'2026-01-01'",
            "'2026-01-01 00:00:00'",
            "'2026-01-01 00:00:00.000'",
            "'2026-01-01T00:00:00'",
            "20260101",
            "'12:00'",
            "'12:00:00'",
            "'true'",
            "'{\"a\":1}'",
            "'{\"a\": 1}'",
            "'\u00e4'",
            "'a\u0308'",
            "'00000000-0000-4000-8000-00000000abcd'",
            "'00000000-0000-4000-8000-00000000ABCD'");

    @TempDir
    Path folder;

    private Connection open(String file) throws SQLException {
        return DriverManager.getConnection("jdbc:sqlite:" + folder.resolve(file));
    }

    private void execute(String file, String... statements) throws SQLException {
        try (Connection connection = open(file);
                Statement statement = connection.createStatement()) {
            for (String sql : statements) {
                statement.execute(sql);
            }
        }
    }

    /** Every value against every other one, in columns of all declarations. */
    private void fill(String file, List<String> types, boolean turned) throws SQLException {
        try (Connection connection = open(file);
                Statement statement = connection.createStatement()) {
            connection.setAutoCommit(false);
            StringBuilder columns = new StringBuilder("id INTEGER PRIMARY KEY");
            for (int i = 0; i < types.size(); i++) {
                columns.append(", c").append(i).append(' ').append(types.get(i));
            }
            statement.execute("CREATE TABLE t (" + columns + ")");
            int count = LITERALS.size();
            for (int i = 0; i < count * count; i++) {
                String literal = LITERALS.get(turned ? i % count : i / count);
                statement.addBatch("INSERT INTO t VALUES (" + i + (", " + literal).repeat(types.size()) + ")");
            }
            statement.executeBatch();
            connection.commit();
        }
    }

    private static Map<String, Set<String>> found(Tool tool, String... compare) throws Exception {
        Tool.Result result = tool.run(compare);
        assertThat(result.code()).as(result.all()).isLessThan(2);
        return FoundRows.of(tool.run("show", "--format", "jsonl").out(), List.of("id"), (i, value) -> value.toString())
                .byKey();
    }

    @Test
    void whateverStandsInWhateverColumn() throws Exception {
        Tool tool = new Tool(folder);
        List<String> ofSource = new ArrayList<>();
        List<String> ofTarget = new ArrayList<>();
        for (List<String> alike : DECLARED) {
            for (String one : alike) {
                for (String other : alike) {
                    ofSource.add(one);
                    ofTarget.add(other);
                }
            }
        }
        fill("one.db", ofSource, false);
        fill("two.db", ofTarget, true);
        Map<String, Set<String>> read = found(tool, "compare", "sqlite:one.db", "sqlite:two.db", "--method", "stream");
        assertThat(read).hasSizeGreaterThan(1_000);
        assertThat(found(tool, "compare", "sqlite:one.db", "sqlite:two.db", "--method", "joined"))
                .isEqualTo(read);
        assertThat(found(
                        tool,
                        "compare",
                        "sqlite:one.db",
                        "sqlite:two.db",
                        "--method",
                        "joined",
                        "--range-rows",
                        "500",
                        "--workers",
                        "2"))
                .isEqualTo(read);
    }

    /** Keys of Parquet files, repeated or NULL on either side: joined or not, what is found is what reading them finds. */
    @Test
    void parquetIsJoinedOnlyByKeysThatAreUnique() throws Exception {
        long seed = Seed.next();
        System.out.println("seed " + seed);
        Random random = new Random(seed);
        Set<String> methods = new HashSet<>();
        for (int round = 0; round < 16; round++) {
            Path home = Files.createDirectory(folder.resolve("round" + round));
            boolean composite = random.nextBoolean();
            List<String> rows = new ArrayList<>();
            for (int i = 0; i < 60; i++) {
                rows.add("(" + i * 7919 % 61 + ", 'gauge " + i % 7 + "', " + (i % 5 == 0 ? "NULL" : "'a\u00e4'") + ", "
                        + i + ".5)");
            }
            for (String side : List.of("s", "t")) {
                List<String> own = new ArrayList<>(rows);
                Collections.shuffle(own, random);
                int fate = random.nextInt(8);
                if (fate == 0) {
                    own.add(rows.get(3).replace(".5)", ".75)"));
                } else if (fate == 1) {
                    own.add("(999, 'gauge 1', 'x', 1)");
                    own.add("(999, 'gauge 1', 'y', 1)");
                } else if (fate == 2) {
                    own.add("(NULL, 'gauge 1', 'x', 1)");
                }
                own.remove(random.nextInt(own.size()));
                own.set(5, "(" + (1_000 + random.nextInt(9)) + ", 'gauge 2', 'z', 2.25)");
                own.set(9, own.get(9).replace(".5)", ".25)"));
                try (Connection duck = DriverManager.getConnection("jdbc:duckdb:");
                        Statement statement = duck.createStatement()) {
                    for (int part = 0; part < 2; part++) {
                        statement.execute("COPY (SELECT * FROM (VALUES "
                                + String.join(", ", part == 0 ? own.subList(0, 20) : own.subList(20, own.size()))
                                + ") v(id, station, remark, level)) TO '" + home.resolve(side + part) + ".parquet'");
                    }
                }
            }
            List<String> command = new ArrayList<>(
                    List.of("compare", "parquet:s*.parquet#reading", "parquet:t*.parquet#reading", "--key", "id"));
            if (composite) {
                command.addAll(List.of("--key", "station"));
            }
            Tool tool = new Tool(home);
            command.addAll(List.of("--method", "joined"));
            Tool.Result chosen = tool.run(command.toArray(String[]::new));
            if (chosen.code() == 2) {
                assertThat(chosen.all()).as("seed " + seed).contains("unique");
                continue;
            }
            String found = tool.run("show", "--format", "jsonl").out();
            methods.add(chosen.out().contains("they were read instead") ? "read" : "joined");
            command.set(command.size() - 1, "stream");
            Tool.Result read = tool.run(command.toArray(String[]::new));
            String story = "seed " + seed + " round " + round + chosen.all() + read.all();
            assertThat(chosen.code()).as(story).isEqualTo(1).isEqualTo(read.code());
            assertThat(found)
                    .as(story)
                    .isNotBlank()
                    .isEqualTo(tool.run("show", "--format", "jsonl").out());
        }
        assertThat(methods).as("seed " + seed).contains("joined", "read");
    }

    @Test
    void strictTablesKeepWhatTheyAreGiven() throws Exception {
        String table = "CREATE TABLE t (id INTEGER PRIMARY KEY, x ANY) STRICT";
        execute("one.db", table, "INSERT INTO t VALUES (1, 5), (2, '5'), (3, 1152921504606846976), (4, 1)");
        execute("two.db", table, "INSERT INTO t VALUES (1, '5'), (2, '5'), (3, 1152921504606846976.0), (4, 1.0)");
        Tool tool = new Tool(folder);
        assertThat(found(tool, "compare", "sqlite:one.db", "sqlite:two.db", "--method", "joined"))
                .isEqualTo(found(tool, "compare", "sqlite:one.db", "sqlite:two.db", "--method", "stream"));
    }

    /** Keys that are paired by what they mean, and SQL that a second file would change the meaning of. */
    @Test
    void whatAJoinWouldNotPairOrUnderstandIsRead() throws Exception {
        for (String file : List.of("one.db", "two.db")) {
            boolean one = file.startsWith("one");
            execute(
                    file,
                    "CREATE TABLE n (id INT PRIMARY KEY, x)",
                    "INSERT INTO n VALUES (" + (one ? "'k'" : "x'6b'") + ", 1)",
                    "CREATE TABLE w (id TEXT PRIMARY KEY, x) WITHOUT ROWID",
                    "INSERT INTO w VALUES ('a', 1), ('b', " + (one ? 2 : 3) + ")",
                    "CREATE TABLE d (id DATE PRIMARY KEY, x)",
                    "INSERT INTO d VALUES (" + (one ? "'2026-01-01'" : "'2026-01-01 00:00:00'") + ", 1)",
                    "CREATE TABLE c (id INTEGER, k INTEGER, x, PRIMARY KEY (id, k))",
                    "INSERT INTO c VALUES (1, 1, 1), (1, 2, " + (one ? "'two'" : "2") + ")",
                    "CREATE TABLE chosen (id INTEGER)",
                    "INSERT INTO chosen VALUES (" + (one ? "1), (2)" : "1)"));
        }
        Tool tool = new Tool(folder);
        refused(tool, "n", "key column id may hold one value in several forms");
        refused(tool, "d", "key column id may hold one value in several forms");
        for (String table : List.of("w", "c")) {
            String[] of = {"compare", "sqlite:one.db#" + table, "sqlite:two.db#" + table, "--method"};
            assertThat(found(tool, of[0], of[1], of[2], of[3], "joined"))
                    .hasSize(1)
                    .isEqualTo(found(tool, of[0], of[1], of[2], of[3], "stream"));
        }
        refused(
                tool,
                "c",
                "a query or condition in SQL is understood in its own file alone",
                "--where",
                "id IN (SELECT id FROM chosen)");
    }

    private static void refused(Tool tool, String table, String why, String... more) throws Exception {
        List<String> command = new ArrayList<>(
                List.of("compare", "sqlite:one.db#" + table, "sqlite:two.db#" + table, "--method", "joined"));
        command.addAll(List.of(more));
        Tool.Result result = tool.run(command.toArray(new String[0]));
        assertThat(result.code()).as(result.all()).isEqualTo(2);
        assertThat(result.all()).contains(why).doesNotContain("--resume");
    }

    @Test
    void filesOfTwoEncodingsAndJournals() throws Exception {
        execute("one.db", "PRAGMA encoding = 'UTF-16le'", "CREATE TABLE t (id INTEGER PRIMARY KEY, x TEXT)");
        execute("two.db", "PRAGMA journal_mode = WAL", "CREATE TABLE t (id INTEGER PRIMARY KEY, x TEXT)");
        execute("3rd.db", "CREATE TABLE t (id INTEGER PRIMARY KEY, x TEXT)");
        for (String file : List.of("one.db", "two.db", "3rd.db")) {
            try (Connection connection = open(file);
                    PreparedStatement insert = connection.prepareStatement("INSERT INTO t VALUES (?, ?)")) {
                for (int i = 0; i < 40; i++) {
                    insert.setInt(1, i);
                    insert.setString(2, i == 7 ? file : "\u00e4 " + i);
                    insert.execute();
                }
            }
        }
        Tool tool = new Tool(folder);
        Tool.Result apart = tool.run("compare", "sqlite:one.db", "sqlite:two.db", "--method", "joined");
        assertThat(apart.all()).contains("the tables are not where one database can join them");
        assertThat(found(tool, "compare", "sqlite:3rd.db", "sqlite:two.db", "--method", "joined"))
                .containsOnlyKeys("changed 7");
        assertThat(tool.run("compare", "sqlite:3rd.db", "sqlite:3rd.db", "--method", "joined", "--format", "json")
                        .json()
                        .at("/run/matches/0/damage"))
                .isEmpty();
        // Nothing is left attached, changed or locked.
        execute("two.db", "DELETE FROM t WHERE id = 7");
        assertThat(folder.resolve("3rd.db-journal")).doesNotExist();
    }

    /** Types of DuckDB of one line may stand against each other; then values, each of which is put beside each. */
    private static final List<String> DUCK = List.of(
            "INTEGER; BIGINT; HUGEINT | 0, 1, -1, 2147483647",
            "UBIGINT; HUGEINT | 0, 1, 18446744073709551615",
            "DECIMAL(18,3); DECIMAL(38,10); BIGINT | 0, 1, -1, 900000000000000",
            "DECIMAL(9,3) | 0, 0.001, -0.001, 123456.789",
            "DOUBLE | 0.0, -0.0, 'nan', 'inf', '-inf', 0.1, 1e300, 5e-324",
            "FLOAT | 0.0, -0.0, 'nan', 'inf', 0.1, 3.4e38",
            "VARCHAR; VARCHAR COLLATE NOCASE | 'a', 'A', 'a ', '', 'ä', 'ä', 'a' || chr(0), '1', '1.0'",
            "BOOLEAN | true, false",
            "BLOB | '\\x61'::BLOB, '\\x61\\xFF'::BLOB, ''::BLOB",
            "DATE | '2026-01-01', 'infinity', '-infinity', '0044-03-15 (BC)'",
            "TIME | '12:00', '12:00:00.000001', '24:00:00'",
            "TIMETZ | '12:00:00+00', '13:00:00+01', '12:00:00.000001+00'",
            "TIMESTAMP | '2026-01-01', '2026-01-01 00:00:00.000001', 'infinity', '0044-03-15 (BC) 10:00:00'",
            "TIMESTAMP_S | '2026-01-01', '2026-01-01 00:00:01'",
            "TIMESTAMP_NS | '2026-01-01', '2026-01-01 00:00:00.000000001'",
            "TIMESTAMPTZ | '2026-01-01 00:00+00', '2026-01-01 01:00+01', 'infinity'",
            "INTERVAL | '1 month', '30 days', '720 hours', '1 day', '24 hours'",
            "UUID | '00000000-0000-4000-8000-00000000abcd', '00000000-0000-4000-8000-00000000abce'",
            "JSON | '{\"a\":1}', '{\"a\": 1}', '[1]', 'null'",
            "BIT | '1'::BIT, '01'::BIT, '10'::BIT",
            "ENUM('a', 'b'); ENUM('b', 'a') | 'a', 'b'",
            "INTEGER[] | [1], [1, NULL], []",
            "STRUCT(a INTEGER, b VARCHAR) | {'a': 1, 'b': 'x'}, {'a': 1, 'b': NULL}",
            "MAP(VARCHAR, INTEGER) | MAP {'a': 1}, MAP {'a': 2}, MAP {}");

    private void duck(String file, String... statements) throws SQLException {
        try (Connection connection = DriverManager.getConnection("jdbc:duckdb:" + folder.resolve(file));
                Statement statement = connection.createStatement()) {
            connection.setAutoCommit(false);
            for (String sql : statements) {
                statement.execute(sql);
            }
            connection.commit();
        }
    }

    @Test
    void whateverStandsInWhateverColumnOfDuckDb() throws Exception {
        List<String> one = new ArrayList<>();
        List<String> two = new ArrayList<>();
        int tables = 0;
        for (String line : DUCK) {
            String[] types = line.substring(0, line.indexOf(" | ")).split("; ");
            List<String> values = new ArrayList<>(List.of("NULL"));
            // A comma within brackets belongs to a value.
            values.addAll(List.of(line.substring(line.indexOf(" | ") + 3).split(", (?![^\\[{]*[\\]}])")));
            for (String source : types) {
                for (String target : types) {
                    String table = "t" + tables++;
                    one.add("CREATE TABLE " + table + " (id INTEGER PRIMARY KEY, a " + source + ")");
                    two.add("CREATE TABLE " + table + " (id INTEGER PRIMARY KEY, a " + target + ")");
                    for (int i = 0; i < values.size() * values.size(); i++) {
                        String into = "INSERT INTO " + table + " VALUES (" + (tables * 1_000 + i) + ", ";
                        one.add(into + values.get(i / values.size()) + ")");
                        two.add(into + values.get(i % values.size()) + ")");
                    }
                }
            }
        }
        duck("one.duck", one.toArray(String[]::new));
        duck("two.duck", two.toArray(String[]::new));
        Tool tool = new Tool(folder);
        String[] of = {"compare", "duckdb:one.duck", "duckdb:two.duck", "--method", "stream"};
        Map<String, Set<String>> read = found(tool, of);
        assertThat(read).hasSizeGreaterThan(500);
        of[4] = "joined";
        assertThat(found(tool, of)).isEqualTo(read);
    }

    /** What would be another table, or another meaning, in the file that is asked. */
    @Test
    void whatTheOtherDuckDbFileWouldNotUnderstandIsRead() throws Exception {
        for (String file : List.of("one.duck", "two.duck")) {
            int value = file.startsWith("one") ? 1 : 2;
            duck(
                    file,
                    "CREATE SCHEMA lab",
                    "CREATE TABLE lab.gauge (id INTEGER PRIMARY KEY, x INTEGER)",
                    "CREATE TABLE gauge (id INTEGER PRIMARY KEY, x INTEGER)",
                    "CREATE TABLE big (id BIGINT PRIMARY KEY, x INTEGER)",
                    "INSERT INTO gauge VALUES (1, " + value + "), (2, 2)",
                    "INSERT INTO lab.gauge VALUES (1, 1), (2, " + value + ")",
                    "INSERT INTO big SELECT range, CASE range WHEN 70001 THEN " + value
                            + " ELSE 0 END FROM range(150000)",
                    "CREATE VIEW seen AS SELECT * FROM gauge",
                    // Beyond what the wider type can hold: the join fails, and the transaction with it.
                    "CREATE TABLE far (id " + (value == 1 ? "BIGINT" : "DECIMAL(38,37)") + " PRIMARY KEY, x INTEGER)",
                    "INSERT INTO far VALUES (1, 1), (2, " + value + ")",
                    "INSERT INTO far SELECT 2147483647, 3 WHERE " + value + " = 1");
        }
        Tool tool = new Tool(folder);
        for (String[] more :
                List.of(new String[] {"lab.gauge", "--all"}, new String[] {"seen", "--key", "id"}, new String[] {
                    "gauge", "--where", "id IN (SELECT id FROM lab.gauge)"
                })) {
            List<String> command = new ArrayList<>(List.of(
                    "compare", "duckdb:one.duck#" + more[0], "duckdb:two.duck#" + more[0], "--method", "joined"));
            command.addAll(List.of(more).subList(1, more.length));
            Tool.Result result = tool.run(command.toArray(String[]::new));
            assertThat(result.code()).as(result.all()).isEqualTo(2);
        }
        assertThat(found(tool, "compare", "duckdb:one.duck#lab.gauge", "duckdb:two.duck#lab.gauge"))
                .containsOnlyKeys("changed 2");
        assertThat(found(tool, "compare", "duckdb:one.duck#gauge", "duckdb:two.duck#gauge", "--method", "joined"))
                .containsOnlyKeys("changed 1");
        Tool.Result failing =
                tool.run("compare", "duckdb:one.duck", "duckdb:two.duck", "--method", "joined", "--table", "far,big");
        assertThat(failing.all())
                .contains("far: method joined failed and rows were read instead")
                .contains("0 of 2 tables same; 2 changed, 1 missing, 0 extra");
        Tool.Result big = tool.run(
                "compare", "duckdb:one.duck#big", "duckdb:two.duck#big", "--range-rows", "20000", "--workers", "2");
        assertThat(big.all()).contains("joined").contains("149,999");
        assertThat(folder.resolve("one.duck.wal")).doesNotExist();
    }
}
