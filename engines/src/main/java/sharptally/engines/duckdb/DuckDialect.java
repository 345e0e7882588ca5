package sharptally.engines.duckdb;

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

/** Statements for DuckDB and its client {@code duckdb}. DuckDB can't count touched rows, so each is looked for first. */
final class DuckDialect implements SqlDialect {
    private static final DuckLiterals LITERALS = new DuckLiterals();

    static String quoted(String name) {
        return SqlTerms.doubleQuoted(name);
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
        Kind kind = DuckReading.kind(column);
        if (value instanceof Value.Null) {
            sql.text(quoted(column.name()) + " IS NULL");
        } else if ((kind == Kind.OTHER || kind == Kind.JSON) && value instanceof Value.Other other) {
            sql.text(DuckReading.asText(column) + " = ").text(LITERALS.text(other.text()));
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

    /** Its indexes know of deleted rows until the commit. */
    @Override
    public boolean takesBackAtOnce() {
        return false;
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

    @Override
    public String typeName(Kind kind, int size, int scale) {
        return switch (kind) {
            case DECIMAL ->
                size == 0 || size > 38 ? "DECIMAL(38, 10) /* CHECK digits */" : "DECIMAL(" + size + ", " + scale + ")";
            case DOUBLE -> "DOUBLE";
            case TIME -> "TIME";
            case TIMESTAMP -> "TIMESTAMP";
            case INSTANT -> "TIMESTAMPTZ";
            case TEXT -> "VARCHAR";
            default -> SqlDialect.super.typeName(kind, size, scale);
        };
    }
}
