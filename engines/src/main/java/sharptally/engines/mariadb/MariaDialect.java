package sharptally.engines.mariadb;

import java.time.Duration;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.function.Supplier;
import sharptally.core.place.Address;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;
import sharptally.core.sql.CountedByVariable;
import sharptally.core.sql.Expected;
import sharptally.core.sql.Repetition;
import sharptally.core.sql.SetForm;
import sharptally.core.sql.ShellText;
import sharptally.core.sql.SqlDialect;
import sharptally.core.sql.SqlText;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;
import sharptally.engines.jdbc.connect.ServerAddress;

/**
 * Statements for MariaDB and MySQL, and their clients. A script stops by a NULL for a column that may not hold one, as old
 * versions of MySQL do not look at checks.
 */
record MariaDialect(String client) implements SqlDialect {
    private static final MariaLiterals LITERALS = new MariaLiterals();
    private static final int MAX_NAME = 64;

    /** Strict, and zero is a number like others in a column that counts by itself. Backslashes escape. */
    static final String SQL_MODE = "STRICT_ALL_TABLES,NO_AUTO_VALUE_ON_ZERO";

    static String quoted(String name) {
        return '`' + name.replace("`", "``") + '`';
    }

    /** The text of a column as bytes in UTF-8, so that order and equality are those of the bytes. */
    static String asBytes(ColumnShape column) {
        boolean utf8 = column.collation()
                .map(c -> c.toLowerCase(Locale.ROOT))
                .filter(c -> c.startsWith("utf8mb"))
                .isPresent();
        return utf8
                ? "CAST(" + quoted(column.name()) + " AS BINARY)"
                : "CAST(CONVERT(" + quoted(column.name()) + " USING utf8mb4) AS BINARY)";
    }

    @Override
    public boolean canName(String name) {
        return name.length() <= MAX_NAME;
    }

    @Override
    public String quote(String name) {
        return quoted(name);
    }

    @Override
    public boolean holdsAnyValue() {
        return false;
    }

    @Override
    public String literal(Value value, ColumnShape column) {
        return LITERALS.of(value, column);
    }

    @Override
    public void appendHolds(SqlText.Builder sql, ColumnShape column, Value value) {
        String name = quoted(column.name());
        Kind kind = MariaReading.kind(column);
        if (value instanceof Value.Null) {
            sql.text(name + " IS NULL");
        } else if (kind == Kind.TEXT && value instanceof Value.Text) {
            // The first part may use an index, the second one holds no two texts equal.
            sql.text(name + " = ").value(value, column).text(" AND " + asBytes(column) + " = ");
            sql.text("CAST(").value(value, column).text(" AS BINARY)");
        } else if (kind == Kind.JSON && value instanceof Value.Other) {
            sql.text(asBytes(column) + " = CAST(").value(value, column).text(" AS BINARY)");
        } else if (kind == Kind.FLOAT) {
            // As it is stored; old versions of MySQL have no cast to it.
            sql.text(name + " + 0e0 = ").value(stored(value), column);
        } else {
            sql.text(name + " = ").value(value, column);
        }
    }

    @Override
    public String fromNothing() {
        return " FROM DUAL";
    }

    private static Value stored(Value value) {
        if (value instanceof Value.Double d) {
            return new Value.Real((float) d.value());
        }
        return value instanceof Value.Int || value instanceof Value.Decimal
                ? new Value.Real((float) Double.parseDouble(value.toString()))
                : value;
    }

    @Override
    public String overridingIdentity(TableShape table) {
        return "";
    }

    @Override
    public SqlText deleteOne(TableShape table, SqlText condition) {
        return new SqlText.Builder()
                .text("DELETE FROM " + quote(table.name()) + " WHERE ")
                .append(condition)
                .text(" LIMIT 1")
                .build();
    }

    @Override
    public List<String> beginScript() {
        return List.of(
                "SET NAMES utf8mb4;",
                "SET time_zone = '+00:00';",
                "SET SESSION TRANSACTION ISOLATION LEVEL REPEATABLE READ;",
                "SET SESSION sql_mode = '" + SQL_MODE + "';",
                "-- @w names the first rows that are not as they were",
                // Another script may have left it in this session.
                "DROP TEMPORARY TABLE IF EXISTS sharp_tally_check;",
                "CREATE TEMPORARY TABLE sharp_tally_check (`" + STOPPED + "` INT NOT NULL);",
                "START TRANSACTION;",
                "SET @w = '';");
    }

    @Override
    public List<String> beginPlain() {
        return List.of(
                "SET NAMES utf8mb4;",
                "SET time_zone = '+00:00';",
                "SET SESSION sql_mode = '" + SQL_MODE + "';",
                "START TRANSACTION;");
    }

    @Override
    public List<String> endScript() {
        return List.of("COMMIT;");
    }

    @Override
    public String countedStatement(
            TableShape table,
            String statement,
            Supplier<Optional<Precondition>> precondition,
            Expected expected,
            String what) {
        return statement + "; SET @w = IF(@w = '' AND ROW_COUNT() <> " + expected.sql() + ", " + what + ", @w);";
    }

    @Override
    public Optional<Repetition> repetition() {
        return Optional.of(new CountedByVariable(all -> List.of(
                "SELECT CONCAT(@made, ' of " + all + " rows are as this would make them') AS stopped_at FROM DUAL"
                        + " WHERE @made NOT IN (0, " + all + ");",
                "DROP TEMPORARY TABLE IF EXISTS sharp_tally_made;",
                "CREATE TEMPORARY TABLE sharp_tally_made (`" + Repetition.PARTLY + "` INT NOT NULL);",
                "INSERT INTO sharp_tally_made VALUES (IF(@made IN (0, " + all + "), 1, NULL));")));
    }

    @Override
    public List<String> checkCount(TableShape table, Expected expected) {
        return List.of(
                "SELECT @w AS stopped_at FROM DUAL WHERE @w <> '';",
                "INSERT INTO sharp_tally_check VALUES (IF(@w = '', 1, NULL));");
    }

    @Override
    public List<String> checkPlace(String location) {
        String database = ServerAddress.of(Address.parse("mariadb:" + location)).database();
        return List.of(
                "DROP TEMPORARY TABLE IF EXISTS sharp_tally_place;",
                "CREATE TEMPORARY TABLE sharp_tally_place (`" + OTHER_PLACE + "` INT NOT NULL);",
                "INSERT INTO sharp_tally_place VALUES (IF(DATABASE() = " + LITERALS.text(database) + ", 1, NULL));");
    }

    @Override
    public String howToRun(String location) {
        ServerAddress server = ServerAddress.of(Address.parse("mariadb:" + location));
        String user = server.user().map(u -> " -u " + ShellText.quoted(u)).orElse("");
        String port = server.port() < 0 ? "" : " -P " + server.port();
        return client + " --default-character-set=utf8mb4 -h " + server.host() + port + user + " "
                + ShellText.quoted(server.database())
                + " < FILE";
    }

    @Override
    public List<String> lockWait(Duration atMost) {
        return List.of(
                "SET SESSION innodb_lock_wait_timeout = " + Math.max(1, atMost.toSeconds()),
                "SET SESSION lock_wait_timeout = " + Math.max(1, atMost.toSeconds()));
    }

    @Override
    public boolean isFasterTogether() {
        return true;
    }

    @Override
    public boolean checksEachRow() {
        return true;
    }

    @Override
    public SetForm setForm() {
        return SetForm.JOIN;
    }

    @Override
    public String unstage(String name) {
        return "DROP TEMPORARY TABLE " + name;
    }

    @Override
    public String same(ColumnShape column, String one, String other) {
        Kind kind = MariaReading.kind(column);
        return kind == Kind.TEXT || kind == Kind.JSON
                ? "CAST(" + one + " AS BINARY) <=> CAST(" + other + " AS BINARY)"
                : one + " <=> " + other;
    }

    @Override
    public String typeName(Kind kind, int size, int scale) {
        return switch (kind) {
            case DECIMAL ->
                size == 0
                        ? "DECIMAL(65, 30) /* CHECK digits */"
                        : "DECIMAL(" + Math.min(65, size) + ", " + Math.min(30, scale) + ")";
            case FLOAT -> "FLOAT";
            case DOUBLE -> "DOUBLE";
            case BYTES -> "LONGBLOB";
            case TIMESTAMP -> "DATETIME(" + size + ")";
            case INSTANT -> "TIMESTAMP(" + size + ") NULL /* CHECK until 2038 only */";
            case UUID -> "CHAR(36)";
            case TEXT -> size == 0 || size > 16_000 ? "LONGTEXT" : "VARCHAR(" + size + ")";
            default -> SqlDialect.super.typeName(kind, size, scale);
        };
    }
}
