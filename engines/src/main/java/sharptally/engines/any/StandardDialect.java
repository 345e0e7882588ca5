package sharptally.engines.any;

import java.util.List;
import java.util.Optional;
import java.util.function.Supplier;
import sharptally.core.place.profile.Profile;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Generation;
import sharptally.core.shape.TableShape;
import sharptally.core.sql.Expected;
import sharptally.core.sql.Repetition;
import sharptally.core.sql.SetForm;
import sharptally.core.sql.SqlDialect;
import sharptally.core.sql.SqlText;
import sharptally.core.types.Value;
import sharptally.engines.jdbc.Literals;

/**
 * Statements in standard SQL, for engines of which we know nothing more than a profile says. The standard has no way to stop a script when
 * a statement touched no row: a guard keeps it from touching a wrong one, and comparing again tells. {@code apply}
 * counts.
 */
final class StandardDialect implements SqlDialect {
    private final Profile profile;
    private final Literals literals;

    StandardDialect(Profile profile) {
        this.profile = profile;
        this.literals = new StandardLiterals(profile);
    }

    @Override
    public String quote(String name) {
        return profile.quoted(name);
    }

    @Override
    public boolean holdsAnyValue() {
        return false;
    }

    @Override
    public String remainder(String number, long divisor) {
        return profile.statements()
                .remainder()
                .map(form -> Profile.filled(form, "number", number, "divisor", Long.toString(divisor)))
                .orElse("MOD(" + number + ", " + divisor + ")");
    }

    @Override
    public String literal(Value value, ColumnShape column) {
        return literals.of(value, column);
    }

    /** By what a profile orders and compares: a column's own equality may take other values for this one. */
    @Override
    public void appendHolds(SqlText.Builder sql, ColumnShape column, Value value) {
        if (value instanceof Value.Null) {
            sql.text(quote(column.name()) + " IS NULL");
        } else {
            sql.text(new AnyReading(profile).term(column) + " = ").value(value, column);
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

    @Override
    public boolean stopsByItself() {
        return false;
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
        return profile.script().begin().orElse(List.of("-- Run this with auto-commit off."));
    }

    @Override
    public List<String> beginPlain() {
        return beginScript();
    }

    @Override
    public List<String> endScript() {
        return profile.script().end().orElse(List.of("COMMIT;"));
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
        return profile.script().run().orElse("the database's own client, auto-commit off, on FILE");
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
        return isFrom() ? SetForm.FROM : SetForm.MERGE;
    }

    private boolean isFrom() {
        return profile.script().together().filter(form -> form.equals("from")).isPresent();
    }

    @Override
    public String stage(String name, String query) {
        return isFrom()
                ? SqlDialect.super.stage(name, query)
                : "CREATE LOCAL TEMPORARY TABLE " + name + " AS (" + query + ") WITH DATA";
    }

    @Override
    public String same(ColumnShape column, String one, String other) {
        return profile.statements()
                .same()
                .map(form -> Profile.filled(form, "one", one, "other", other))
                .orElse("(" + one + " = " + other + " OR (" + one + " IS NULL AND " + other + " IS NULL))");
    }
}
