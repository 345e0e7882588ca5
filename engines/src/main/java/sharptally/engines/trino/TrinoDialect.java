package sharptally.engines.trino;

import java.util.List;
import java.util.Optional;
import java.util.function.Supplier;
import sharptally.core.place.Address;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.core.sql.Expected;
import sharptally.core.sql.Repetition;
import sharptally.core.sql.SetForm;
import sharptally.core.sql.ShellText;
import sharptally.core.sql.SqlDialect;
import sharptally.core.sql.SqlTerms;
import sharptally.core.sql.SqlText;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;
import sharptally.engines.jdbc.connect.ServerAddress;

/**
 * Statements for Trino and its client. What can be written to takes no transaction over several statements: each is committed by
 * itself. A guard is a query before a statement, that fails where rows are not as they were.
 */
final class TrinoDialect implements SqlDialect {
    private static final TrinoLiterals LITERALS = new TrinoLiterals();

    static String quoted(String name) {
        return SqlTerms.doubleQuoted(name);
    }

    /** A schema is told with its catalogue. */
    @Override
    public String quote(TableName table) {
        String schema = table.schema()
                .map(s -> s.contains(".")
                        ? quoted(s.substring(0, s.indexOf('.'))) + "." + quoted(s.substring(s.indexOf('.') + 1)) + "."
                        : quoted(s) + ".")
                .orElse("");
        return schema + quoted(table.name());
    }

    @Override
    public String literal(Value value, ColumnShape column) {
        return LITERALS.of(value, column);
    }

    /** By bits where equality holds two values for one, and by text where it would hold more. */
    @Override
    public void appendHolds(SqlText.Builder sql, ColumnShape column, Value value) {
        String name = quoted(column.name());
        if (value instanceof Value.Null) {
            sql.text(name + " IS NULL");
        } else if (value instanceof Value.Double) {
            sql.text(bits("64", name) + " = " + bits("64", literal(value, column)));
        } else if (value instanceof Value.Real) {
            sql.text(bits("32", name) + " = " + bits("32", literal(value, column)));
        } else if (value instanceof Value.Other other) {
            sql.text(TrinoReading.asText(column) + " = " + LITERALS.text(other.text()));
        } else {
            sql.text(name + " = ").value(value, column);
        }
    }

    private static String bits(String width, String value) {
        return "to_ieee754_" + width + "(" + value + ")";
    }

    @Override
    public String same(ColumnShape column, String one, String other) {
        return switch (TrinoReading.kind(column)) {
            case DOUBLE -> bits("64", one) + " IS NOT DISTINCT FROM " + bits("64", other);
            case FLOAT -> bits("32", one) + " IS NOT DISTINCT FROM " + bits("32", other);
            default -> one + " IS NOT DISTINCT FROM " + other;
        };
    }

    @Override
    public boolean holdsAnyValue() {
        return false;
    }

    @Override
    public String overridingIdentity(TableShape table) {
        return "";
    }

    /** There is no way to delete one of several rows that are alike, so the row goes only where it is the only one. */
    @Override
    public SqlText deleteOne(TableShape table, SqlText condition) {
        String name = quote(table.name());
        return new SqlText.Builder()
                .text("DELETE FROM " + name + " WHERE ")
                .append(condition)
                .text(" AND 1 = (SELECT count(*) FROM " + name + " WHERE ")
                .append(condition)
                .text(")")
                .build();
    }

    @Override
    public boolean hasTemporaryTables() {
        return false;
    }

    @Override
    public List<String> beginScript() {
        return List.of();
    }

    @Override
    public List<String> beginPlain() {
        return List.of();
    }

    @Override
    public List<String> endScript() {
        return List.of();
    }

    @Override
    public List<String> checkPlace(String location) {
        String[] names =
                ServerAddress.of(Address.parse("trino:" + location)).database().split("/", 2);
        String schema = names.length < 2 ? "" : " AND current_schema = " + LITERALS.text(names[1]);
        return List.of("SELECT CAST(IF(current_catalog = " + LITERALS.text(names[0]) + schema + ", '1', '" + OTHER_PLACE
                + "') AS integer) AS place;");
    }

    /** A text that is no number ends the script, and is told. */
    @Override
    public String countedStatement(
            TableShape table,
            String statement,
            Supplier<Optional<Precondition>> precondition,
            Expected expected,
            String what) {
        String guard = precondition
                .get()
                .map(p -> "SELECT CAST(IF(found " + (p.exists() ? "= " + p.rows() : "= 0")
                        + ", '1', '" + STOPPED_PARTLY + ": " + what.substring(1) + ") AS integer) AS guard FROM (SELECT"
                        + " count(*) AS found FROM " + quote(table.name()) + " WHERE " + p.condition() + ");\n")
                .orElse("");
        return guard + statement + ";";
    }

    @Override
    public Optional<Repetition> repetition() {
        return Optional.empty();
    }

    @Override
    public List<String> checkCount(TableShape table, Expected expected) {
        return List.of();
    }

    @Override
    public String howToRun(String location) {
        ServerAddress server = ServerAddress.of(Address.parse("trino:" + location));
        String[] names = server.database().split("/", 2);
        return "trino --server " + server.hostAndPort()
                + server.user().map(u -> " --user " + ShellText.quoted(u)).orElse("") + " --catalog "
                + ShellText.quoted(names[0]) + (names.length < 2 ? "" : " --schema " + ShellText.quoted(names[1]))
                + " --file FILE";
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
        return SetForm.MERGE;
    }

    @Override
    public String typeName(Kind kind, int size, int scale) {
        return switch (kind) {
            case DOUBLE -> "double";
            case BYTES -> "varbinary";
            case TEXT -> size == 0 ? "varchar" : "varchar(" + size + ")";
            default -> SqlDialect.super.typeName(kind, size, scale);
        };
    }
}
