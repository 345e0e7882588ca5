package sharptally.engines.duckdb;

import java.time.Duration;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.HexFormat;
import java.util.List;
import java.util.Locale;
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

/** Statements for DuckDB and its client {@code duckdb}. DuckDB can't count touched rows, so each is looked for first. */
final class DuckDialect implements SqlDialect {
    /** Letters of {@code -03-15}. */
    private static final int MONTH_AND_DAY = 6;

    static String quoted(String name) {
        return SqlDialect.doubleQuoted(name);
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
        if (value instanceof Value.Null) {
            return "NULL";
        } else if (value instanceof Value.Bool v) {
            return v.value() ? "TRUE" : "FALSE";
        } else if (value instanceof Value.Int) {
            return value.toString();
        } else if (value instanceof Value.Decimal v) {
            return "CAST('" + v.value().toPlainString() + "' AS " + column.declaredType() + ")";
        } else if (value instanceof Value.Real v) {
            return "CAST('" + v.value() + "' AS FLOAT)";
        } else if (value instanceof Value.Double v) {
            return "CAST('" + v.value() + "' AS DOUBLE)";
        } else if (value instanceof Value.Text v) {
            return text(v.value());
        } else if (value instanceof Value.BrokenText v) {
            return text(new String(v.bytes(), java.nio.charset.StandardCharsets.UTF_8));
        } else if (value instanceof Value.Bytes v) {
            return "unhex('" + HexFormat.of().formatHex(v.value()) + "')";
        } else if (value instanceof Value.Date v) {
            return "DATE '" + era(v.value(), v.toString()) + "'";
        } else if (value instanceof Value.Time v) {
            return "CAST('" + v + "' AS " + column.declaredType() + ")";
        } else if (value instanceof Value.Timestamp v) {
            return "CAST('" + era(v.value().toLocalDate(), v.toString()) + "' AS " + column.declaredType() + ")";
        } else if (value instanceof Value.Instant v) {
            LocalDate date = LocalDate.ofInstant(v.value(), ZoneOffset.UTC);
            return "TIMESTAMPTZ '" + era(date, v.toString().replace("Z", "")) + "+00'";
        } else if (value instanceof Value.Uuid v) {
            return "UUID '" + v + "'";
        } else if (value instanceof Value.Other v) {
            return DuckTypes.isNested(column.declaredType())
                    ? "CAST(CAST(" + text(v.text()) + " AS JSON) AS " + column.declaredType() + ")"
                    : "CAST(" + text(v.text()) + " AS " + column.declaredType() + ")";
        }
        throw new IllegalStateException("no literal for " + value.getClass());
    }

    /** Java counts years before the common era from zero downwards, DuckDB from one upwards. */
    private static String era(LocalDate date, String text) {
        if (date.getYear() > 0) {
            return text.startsWith("+") ? text.substring(1) : text;
        }
        // Its mark stands between the date and the time.
        String rest = text.substring(text.indexOf('-', 1));
        return String.format(
                Locale.ROOT,
                "%04d%s (BC)%s",
                1 - date.getYear(),
                rest.substring(0, MONTH_AND_DAY),
                rest.substring(MONTH_AND_DAY));
    }

    /** One line, whatever the text: a statement stays on its line. */
    private static String text(String text) {
        if (text.chars().noneMatch(c -> c < ' ')) {
            return "'" + text.replace("'", "''") + "'";
        }
        StringBuilder out = new StringBuilder("('");
        for (int i = 0; i < text.length(); i++) {
            char c = text.charAt(i);
            out.append(c == '\'' ? "''" : c < ' ' ? "' || chr(" + (int) c + ") || '" : Character.toString(c));
        }
        return out.append("')").toString();
    }

    @Override
    public void appendHolds(SqlText.Builder sql, ColumnShape column, Value value) {
        Kind kind = DuckReading.kind(column);
        if (value instanceof Value.Null) {
            sql.text(quoted(column.name()) + " IS NULL");
        } else if ((kind == Kind.OTHER || kind == Kind.JSON) && value instanceof Value.Other other) {
            sql.text(DuckReading.asText(column) + " = ").text(text(other.text()));
        } else {
            sql.text(quoted(column.name()) + " = ").value(value, column);
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
        return List.of("SET TimeZone = 'UTC';", "BEGIN TRANSACTION;");
    }

    @Override
    public List<String> beginPlain() {
        return beginScript();
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
        String stopped = "'" + STOPPED + ": " + what.substring(1);
        String guard = precondition
                .get()
                .map(p -> "SELECT CASE WHEN "
                        + (p.exactly()
                                ? expected.sql() + " <> (SELECT COUNT(*) FROM "
                                : expected.toDo().map(t -> t + " = 1 AND ").orElse("") + (p.exists() ? "NOT " : "")
                                        + "EXISTS (SELECT 1 FROM ")
                        + quote(table.name()) + " WHERE " + p.condition() + ") THEN error(" + stopped + ") END;\n")
                .orElse("");
        return guard + statement + ";";
    }

    @Override
    public Optional<Repetition> repetition() {
        return Optional.of(new CountedByTable(
                "CREATE TEMP TABLE ",
                "",
                "made bigint, rows bigint, go int",
                all -> List.of("SELECT CASE WHEN sum(made) NOT IN (0, " + all + ") THEN error(sum(made) || ' of " + all
                        + " rows: " + Repetition.PARTLY + "') END FROM sharp_tally_made;"),
                List.of("DROP TABLE sharp_tally_made;", "DROP TABLE sharp_tally_go;")));
    }

    @Override
    public List<String> checkCount(TableShape table, Expected expected) {
        return List.of();
    }

    @Override
    public String howToRun(String location) {
        return "duckdb " + ShellText.inQuotes(location) + " < FILE";
    }

    @Override
    public List<String> lockWait(Duration atMost) {
        return List.of();
    }

    @Override
    public List<String> deferReferences() {
        return List.of();
    }

    /** Its indexes know of deleted rows until the commit. */
    @Override
    public boolean takesBackAtOnce() {
        return false;
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
        return true;
    }

    @Override
    public SetForm setForm() {
        return SetForm.FROM;
    }

    @Override
    public String same(ColumnShape column, String one, String other) {
        Kind kind = DuckReading.kind(column);
        return kind == Kind.OTHER || kind == Kind.JSON
                ? "CAST(" + one + " AS VARCHAR) IS NOT DISTINCT FROM CAST(" + other + " AS VARCHAR)"
                : one + " IS NOT DISTINCT FROM " + other;
    }
}
