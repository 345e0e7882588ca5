package sharptally.engines.sqlite;

import java.time.Duration;
import java.util.HexFormat;
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
import sharptally.core.sql.SqlText;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;

/** Statements for SQLite and its client {@code sqlite3}. */
final class SqliteDialect implements SqlDialect {
    static String quoted(String name) {
        return SqlDialect.doubleQuoted(name);
    }

    @Override
    public String quote(String name) {
        return quoted(name);
    }

    @Override
    public boolean holdsAnyValue() {
        return true;
    }

    @Override
    public String literal(Value value, ColumnShape column) {
        if (value instanceof Value.Null) {
            return "NULL";
        } else if (value instanceof Value.Bool v) {
            return v.value() ? "1" : "0";
        } else if (value instanceof Value.Int v) {
            // The smallest number can't be written: its digits without the sign are too large.
            return v.value() == Long.MIN_VALUE ? "(-9223372036854775807 - 1)" : Long.toString(v.value());
        } else if (value instanceof Value.Decimal v) {
            // As a number it would be rounded to a floating value before the column makes text of it.
            boolean asText = column.type().filter(t -> t.kind() == Kind.TEXT).isPresent();
            boolean whole = v.value().stripTrailingZeros().scale() <= 0
                    && v.value().toBigInteger().bitLength() < Long.SIZE;
            return asText
                    ? text(v.toString())
                    : whole ? v.value().toPlainString() : number(v.value().doubleValue());
        } else if (value instanceof Value.Real v) {
            return number(v.value());
        } else if (value instanceof Value.Double v) {
            return number(v.value());
        } else if (value instanceof Value.Text v) {
            return text(v.value());
        } else if (value instanceof Value.BrokenText v) {
            return "CAST(" + hex(v.bytes()) + " AS TEXT)";
        } else if (value instanceof Value.Bytes v) {
            return hex(v.value());
        } else {
            return text(value.toString());
        }
    }

    private static String number(double value) {
        return Double.isInfinite(value)
                ? (value > 0 ? "9e999" : "-9e999")
                : Double.isNaN(value) ? "NULL" : RealLiteral.of(value);
    }

    private static String hex(byte[] bytes) {
        return "x'" + HexFormat.of().formatHex(bytes) + "'";
    }

    /** One line, whatever the text: a statement stays on its line. */
    private static String text(String text) {
        if (text.indexOf('\0') >= 0) {
            return "CAST(" + hex(text.getBytes(java.nio.charset.StandardCharsets.UTF_8)) + " AS TEXT)";
        }
        String quoted = "'" + text.replace("'", "''") + "'";
        if (text.indexOf('\n') < 0 && text.indexOf('\r') < 0) {
            return quoted;
        }
        return "(" + quoted.replace("\r", "' || char(13) || '").replace("\n", "' || char(10) || '") + ")";
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

    @Override
    public List<String> triggersOff(TableShape table) {
        return List.of();
    }

    @Override
    public List<String> triggersOn(TableShape table) {
        return List.of();
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
}
