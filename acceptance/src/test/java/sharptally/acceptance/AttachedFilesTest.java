package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** SQLite files that are joined where they are: what is found is what reading them finds, whatever stands in any column. */
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
        Tool tool = Tool.apart(folder);
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

    @Test
    void strictTablesKeepWhatTheyAreGiven() throws Exception {
        String table = "CREATE TABLE t (id INTEGER PRIMARY KEY, x ANY) STRICT";
        execute("one.db", table, "INSERT INTO t VALUES (1, 5), (2, '5'), (3, 1152921504606846976), (4, 1)");
        execute("two.db", table, "INSERT INTO t VALUES (1, '5'), (2, '5'), (3, 1152921504606846976.0), (4, 1.0)");
        Tool tool = Tool.apart(folder);
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
        Tool tool = Tool.apart(folder);
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
        Tool tool = Tool.apart(folder);
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
}
