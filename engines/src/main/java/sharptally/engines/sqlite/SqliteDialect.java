package sharptally.engines.sqlite;

import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.function.Supplier;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;
import sharptally.core.sql.CountedByTable;
import sharptally.core.sql.Expected;
import sharptally.core.sql.Repetition;
import sharptally.core.sql.SetForm;
import sharptally.core.sql.ShellText;
import sharptally.core.sql.SqlDialect;
import sharptally.core.sql.SqlTerms;
import sharptally.core.sql.SqlText;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;
import sharptally.engines.jdbc.Literals;

/** Statements for SQLite and its client {@code sqlite3}. */
final class SqliteDialect implements SqlDialect {
    private static final Literals LITERALS = new SqliteLiterals();

    static String quoted(String name) {
        return SqlTerms.doubleQuoted(name);
    }

    @Override
    public boolean holdsAnyValue() {
        return true;
    }

    @Override
    public String literal(Value value, ColumnShape column) {
        return LITERALS.of(value, column);
    }

    @Override
    public void appendHolds(SqlText.Builder sql, ColumnShape column, Value value) {
        sql.text(quoted(column.name()));
        if (value instanceof Value.Null) {
            sql.text(" IS NULL");
        } else {
            sql.text(" = ").value(value, column);
            if (column.collation().isPresent() && value instanceof Value.Text) {
                sql.text(" COLLATE BINARY");
            }
        }
    }

    @Override
    public String overridingIdentity(TableShape table) {
        return "";
    }

    @Override
    public SqlText deleteOne(TableShape table, SqlText condition) {
        String name = quote(table.name());
        return new SqlText.Builder()
                .text("DELETE FROM " + name + " WHERE rowid = (SELECT rowid FROM " + name + " WHERE ")
                .append(condition)
                .text(" LIMIT 1)")
                .build();
    }

    @Override
    public List<String> stopAtErrors() {
        return List.of(".bail on");
    }

    @Override
    public List<String> beginScript() {
        return List.of(
                // Another script may have left them in this session.
                "DROP TABLE IF EXISTS temp.sharp_tally_wrong;",
                "DROP TABLE IF EXISTS temp.sharp_tally_check;",
                "CREATE TEMP TABLE sharp_tally_wrong (at);",
                "CREATE TEMP TABLE sharp_tally_check (wrong,",
                "  CONSTRAINT \"" + STOPPED + "\" CHECK (wrong = 0));",
                "BEGIN IMMEDIATE;");
    }

    @Override
    public List<String> beginPlain() {
        return List.of("BEGIN IMMEDIATE;");
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
        return statement + "; INSERT INTO temp.sharp_tally_wrong SELECT " + what
                + (expected.toDo().isPresent()
                        ? " FROM temp.sharp_tally_go WHERE changes() <> go"
                                + (expected.rows() == 1 ? "" : " * " + expected.rows())
                        : " WHERE changes() <> " + expected.rows())
                + ";";
    }

    @Override
    public Optional<Repetition> repetition() {
        return Optional.of(new CountedByTable(
                "CREATE TEMP TABLE ",
                "",
                "temp.",
                CountedByTable.CHECKED,
                all -> List.of("SELECT 'stopped: ' || sum(made) || ' of " + all
                        + " rows are as this would make them' FROM temp.sharp_tally_made"
                        + " HAVING sum(made) NOT IN (0, " + all + ");"),
                List.of("DROP TABLE temp.sharp_tally_made;", "DROP TABLE temp.sharp_tally_go;")));
    }

    @Override
    public List<String> checkCount(TableShape table, Expected expected) {
        return List.of(
                "SELECT 'stopped at ' || at FROM temp.sharp_tally_wrong LIMIT 1;",
                "INSERT INTO temp.sharp_tally_check SELECT count(*) FROM temp.sharp_tally_wrong;");
    }

    @Override
    public String howToRun(String location) {
        return "sqlite3 " + ShellText.inQuotes(location) + " < FILE";
    }

    @Override
    public List<String> lockWait(Duration atMost) {
        return List.of("PRAGMA busy_timeout = " + atMost.toMillis());
    }

    @Override
    public List<String> scriptLockWait(Duration atMost) {
        return List.of(".timeout " + atMost.toMillis());
    }

    @Override
    public List<String> deferReferences() {
        return List.of("PRAGMA defer_foreign_keys = ON");
    }

    /** After a full disk, its journal is played back by the next connection that may write, with its first look. */
    @Override
    public List<String> recovery() {
        return List.of("SELECT count(*) FROM sqlite_master");
    }

    @Override
    public boolean isFasterTogether() {
        return false;
    }

    @Override
    public boolean checksEachRow() {
        return false;
    }

    @Override
    public SetForm setForm() {
        return SetForm.FROM;
    }

    @Override
    public String same(ColumnShape column, String one, String other) {
        return one + " IS " + other + (column.collation().isPresent() ? " COLLATE BINARY" : "");
    }

    @Override
    public String typeName(Kind kind, int size, int scale) {
        return switch (kind) {
            case BOOLEAN -> "BOOLEAN";
            // Its numbers hold fifteen digits.
            case DECIMAL ->
                size == 0 || size > 15 ? "TEXT /* CHECK decimals as text */" : "DECIMAL(" + size + ", " + scale + ")";
            case FLOAT, DOUBLE -> "DOUBLE";
            case TIME -> "TIME";
            case TIMESTAMP, INSTANT -> "TIMESTAMP";
            case UUID, JSON, TEXT -> "TEXT";
            default -> SqlDialect.super.typeName(kind, size, scale);
        };
    }
}
