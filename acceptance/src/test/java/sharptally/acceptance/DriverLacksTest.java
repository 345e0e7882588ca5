package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.Statement;
import java.util.List;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** A driver that refuses an optional call is used with what it has, and what it lacks is told. */
class DriverLacksTest {
    @TempDir
    Path folder;

    /** Whatever a driver throws, and wherever, is no fault of this program, and nothing is called the same. */
    @ParameterizedTest
    @ValueSource(
            strings = {
                "connect",
                "createStatement",
                "prepareStatement",
                "execute",
                "executeQuery",
                "next",
                "getString",
                "getObject",
                "getInt",
                "getLong",
                "getBigDecimal",
                "wasNull",
                "getTables",
                "getColumns",
                "getPrimaryKeys",
                "getIndexInfo",
                "getImportedKeys",
                "getMetaData",
                "getColumnCount",
                "getColumnLabel",
                "setReadOnly",
                "setAutoCommit",
                "setFetchSize",
                "setQueryTimeout",
                "getDatabaseProductName",
                "commit",
                "rollback",
                "close"
            })
    void whateverADriverThrows(String call) throws Exception {
        String name = "throws" + Long.toHexString(System.nanoTime());
        try (Connection connection = DriverManager.getConnection("jdbc:h2:mem:" + name + ";DB_CLOSE_DELAY=-1");
                Statement statement = connection.createStatement()) {
            statement.execute("CREATE TABLE gauge (id INT PRIMARY KEY, level DECIMAL(9, 3), depth INT)");
            statement.execute("INSERT INTO gauge SELECT x, x / 7.0, x FROM system_range(1, 300)");
        }
        Tool tool = new Tool(folder);
        String sound = "jdbc:refusing:nothing:runtime:" + name + "#GAUGE";
        for (String how : List.of("runtime", "fault")) {
            String poor = "jdbc:refusing:" + call + ":" + how + ":" + name;
            for (List<String> words : List.of(
                    List.of("survey", poor),
                    List.of("compare", sound, poor + "#GAUGE", "--key", "ID"),
                    List.of("totals", poor + "#GAUGE", sound))) {
                Tool.Result result = tool.run(words.toArray(String[]::new));
                assertThat(result.code()).as(call + words + result.all()).isIn(0, 3, 5);
                assertThat(result.all()).doesNotContain("bug", "Exception in", "\tat ");
            }
        }
    }

    @ParameterizedTest
    @CsvSource({
        "getIndexInfo, class, indexes",
        "getIndexInfo, words, indexes",
        "getPrimaryKeys, state, primary keys",
        "getImportedKeys, class, foreign keys",
        "getSchema, method, ",
        "setReadOnly, class, read-only connections",
        "setAutoCommit, words, transactions",
        "setFetchSize, class, fetch sizes",
        "prepareStatement, class, prepared statements",
        "prepareStatement, words, prepared statements",
        "setHoldability, class, ",
        "getCatalog, class, ",
        "setTransactionIsolation, class, "
    })
    void whatADriverLacksIsDoneWithout(String call, String how, String lack) throws Exception {
        String suffix = Long.toHexString(System.nanoTime());
        for (String side : new String[] {"one", "two"}) {
            try (Connection connection =
                            DriverManager.getConnection("jdbc:h2:mem:" + side + suffix + ";DB_CLOSE_DELAY=-1");
                    Statement statement = connection.createStatement()) {
                statement.execute("CREATE TABLE gauge (id INT PRIMARY KEY, level DECIMAL(9, 3), seen TIMESTAMP(6))");
                statement.execute(
                        "INSERT INTO gauge SELECT x, x / 7.0, TIMESTAMP '2026-11-30 06:00:00' FROM system_range(1, 5000)");
            }
        }
        try (Connection connection = DriverManager.getConnection("jdbc:h2:mem:two" + suffix);
                Statement statement = connection.createStatement()) {
            statement.execute("UPDATE gauge SET level = 0 WHERE id = 4000");
            statement.execute("DELETE FROM gauge WHERE id = 17");
        }
        Tool tool = new Tool(folder);
        String start = "jdbc:refusing:" + call + ":" + how + ":";
        Tool.Result compared = tool.run(
                "compare", start + "one" + suffix + "#GAUGE", start + "two" + suffix + "#GAUGE", "--key", "ID");
        assertThat(compared.code()).as(compared.all()).isEqualTo(1);
        assertThat(compared.out()).contains("1 changed, 1 missing, 0 extra");
        Tool.Result survey = tool.run("survey", start + "one" + suffix);
        assertThat(survey.code()).as(survey.all()).isZero();
        if (lack != null && !lack.equals("fetch sizes")) {
            assertThat(survey.out()).containsPattern("driver lacks +" + lack);
        }
        Tool.Result applied = tool.run("apply", "--yes", "--allow-jdbc");
        boolean safe = !call.equals("setAutoCommit");
        assertThat(applied.code()).as(applied.all()).isEqualTo(safe ? 0 : applied.code());
        assertThat(applied.code() == 0).as(applied.all()).isEqualTo(safe);
        Tool.Result again = tool.run(
                "compare", start + "one" + suffix + "#GAUGE", start + "two" + suffix + "#GAUGE", "--key", "ID");
        assertThat(again.code()).as(again.all()).isEqualTo(safe ? 0 : 1);
    }
}
