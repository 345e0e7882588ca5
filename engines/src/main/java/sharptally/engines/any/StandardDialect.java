package sharptally.engines.any;

import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.function.Supplier;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Generation;
import sharptally.core.shape.TableShape;
import sharptally.core.sql.Expected;
import sharptally.core.sql.Repetition;
import sharptally.core.sql.SetForm;
import sharptally.core.sql.SqlDialect;
import sharptally.core.sql.SqlTerms;
import sharptally.core.sql.SqlText;
import sharptally.core.types.Value;
import sharptally.engines.jdbc.Literals;

/**
 * Statements in standard SQL, for engines of which we know nothing more. The standard has no way to stop a script when
 * a statement touched no row: a guard keeps it from touching a wrong one, and comparing again tells. {@code apply}
 * counts.
 */
final class StandardDialect implements SqlDialect {
    private static final Literals LITERALS = new StandardLiterals();

    static String quoted(String name) {
        return SqlTerms.doubleQuoted(name);
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
    public String remainder(String number, long divisor) {
        return "MOD(" + number + ", " + divisor + ")";
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
        }
    }

    @Override
    public String overridingIdentity(TableShape table) {
        boolean always = table.columns().stream().anyMatch(c -> c.generation() == Generation.IDENTITY_ALWAYS);
        return always ? " OVERRIDING SYSTEM VALUE" : "";
    }

    /**
     * The standard knows no way to delete one of several rows that are alike, so the row goes only where it is the only
     * one; with others like it, nothing is touched.
     */
    @Override
    public SqlText deleteOne(TableShape table, SqlText condition) {
        String name = quote(table.name());
        return new SqlText.Builder()
                .text("DELETE FROM " + name + " WHERE ")
                .append(condition)
                .text(" AND 1 = (SELECT COUNT(*) FROM " + name + " WHERE ")
                .append(condition)
                .text(")")
                .build();
    }

    /** What drivers say of them differs. */
    @Override
    public boolean tellsDigits() {
        return false;
    }

    /** Not every engine selects without a table, and none of a client of its own is known. */
    @Override
    public List<String> saysDone(String what) {
        return List.of();
    }

    @Override
    public List<String> beginScript() {
        return List.of("-- Run this with auto-commit off.");
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
        return statement + ";";
    }

    @Override
    public Optional<Repetition> repetition() {
        return Optional.empty();
    }

    @Override
    public List<String> checkCount(TableShape table, Expected expected) {
        return List.of("-- these must have touched " + expected.rows() + " rows");
    }

    @Override
    public String howToRun(String location) {
        return "the database's own client, auto-commit off, on FILE";
    }

    @Override
    public List<String> lockWait(Duration atMost) {
        return List.of();
    }

    @Override
    public List<String> deferReferences() {
        return List.of();
    }

    @Override
    public List<String> recovery() {
        return List.of();
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
        return SetForm.MERGE;
    }

    @Override
    public String stage(String name, String query) {
        return "CREATE LOCAL TEMPORARY TABLE " + name + " AS (" + query + ") WITH DATA";
    }

    @Override
    public String same(ColumnShape column, String one, String other) {
        return "(" + one + " = " + other + " OR (" + one + " IS NULL AND " + other + " IS NULL))";
    }
}
