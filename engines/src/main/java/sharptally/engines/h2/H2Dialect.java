package sharptally.engines.h2;

import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.function.Supplier;
import sharptally.core.place.Address;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Generation;
import sharptally.core.shape.TableShape;
import sharptally.core.sql.CountedByVariable;
import sharptally.core.sql.Expected;
import sharptally.core.sql.Repetition;
import sharptally.core.sql.SetForm;
import sharptally.core.sql.ShellText;
import sharptally.core.sql.SqlDialect;
import sharptally.core.sql.SqlTerms;
import sharptally.core.sql.SqlText;
import sharptally.core.types.Value;
import sharptally.engines.jdbc.Literals;

/** Statements for H2 and its tool {@code RunScript}. */
final class H2Dialect implements SqlDialect {
    private static final Literals LITERALS = new H2Literals();

    static String quoted(String name) {
        return SqlTerms.doubleQuoted(name);
    }

    /** Those beyond the basic plane are two. */
    @Override
    public long characters(String text) {
        return text.length();
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
        if (value instanceof Value.Null) {
            sql.text(quoted(column.name())).text(" IS NULL");
        } else if (column.collation().isPresent() && value instanceof Value.Text) {
            // Bytes, since the column's own comparison holds different letters equal.
            sql.text("CAST(" + quoted(column.name()) + " AS VARBINARY) = CAST(CAST(")
                    .value(value, column)
                    .text(" AS VARCHAR) AS VARBINARY)");
        } else {
            sql.text(quoted(column.name())).text(" = ").value(value, column);
        }
    }

    @Override
    public String overridingIdentity(TableShape table) {
        boolean always = table.columns().stream().anyMatch(c -> c.generation() == Generation.IDENTITY_ALWAYS);
        return always ? " OVERRIDING SYSTEM VALUE" : "";
    }

    @Override
    public SqlText deleteOne(TableShape table, SqlText condition) {
        return new SqlText.Builder()
                .text("DELETE FROM " + quote(table.name()) + " WHERE ")
                .append(condition)
                .text(" FETCH FIRST ROW ONLY")
                .build();
    }

    @Override
    public List<String> beginScript() {
        return List.of("SET AUTOCOMMIT FALSE;", "SET @stopped = '" + STOPPED + ": ';");
    }

    @Override
    public List<String> beginPlain() {
        return List.of("SET AUTOCOMMIT FALSE;");
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
        String which = statement.startsWith("DELETE") ? "OLD" : "FINAL";
        return "SELECT CASE (SELECT COUNT(*) FROM " + which + " TABLE (" + statement + ")) WHEN " + expected.sql()
                + " THEN 1 ELSE SIGNAL('45000', @stopped || " + what + ") END;";
    }

    @Override
    public Optional<Repetition> repetition() {
        return Optional.of(new CountedByVariable(all -> List.of("SELECT CASE WHEN @made IN (0, " + all
                + ") THEN 1 ELSE SIGNAL('45000', @made || ' of " + all + " rows: " + Repetition.PARTLY + "') END;")));
    }

    @Override
    public List<String> checkCount(TableShape table, Expected expected) {
        return List.of();
    }

    @Override
    public String howToRun(String location) {
        String base = H2Connector.base(Address.parse("h2:" + location)).toString();
        return "java -cp h2.jar org.h2.tools.RunScript -url " + ShellText.inQuotes("jdbc:h2:file:" + base)
                + " -user sa -script FILE";
    }

    @Override
    public List<String> numbersGoOn(TableShape table, ColumnShape column) {
        String name = quote(table.name());
        return List.of("ALTER TABLE " + name + " ALTER COLUMN " + quote(column.name())
                + " RESTART WITH (SELECT COALESCE(MAX(" + quote(column.name()) + "), 0) + 1 FROM " + name + ");");
    }

    @Override
    public boolean numbersGoOnAfterwards() {
        return true;
    }

    @Override
    public List<String> lockWait(Duration atMost) {
        return List.of("SET LOCK_TIMEOUT " + atMost.toMillis());
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
        return "CREATE LOCAL TEMPORARY TABLE " + name + " TRANSACTIONAL AS " + query;
    }

    /** To drop a table would commit; it goes with the session. */
    @Override
    public String unstage(String name) {
        return "DELETE FROM " + name;
    }

    @Override
    public String same(ColumnShape column, String one, String other) {
        return column.collation().isPresent()
                ? "CAST(" + one + " AS VARBINARY) IS NOT DISTINCT FROM CAST(" + other + " AS VARBINARY)"
                : one + " IS NOT DISTINCT FROM " + other;
    }
}
