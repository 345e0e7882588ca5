package sharptally.engines.oracle;

import java.util.List;
import java.util.Optional;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import sharptally.core.place.Address;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Generation;
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
 * Statements for Oracle and its client. Each change of a script is a block that counts what it touched and raises an error, at
 * which the client takes all back and leaves.
 */
final class OracleDialect implements SqlDialect {
    private static final OracleLiterals LITERALS = new OracleLiterals();
    private static final int MAX_NAME = 128;

    static String quoted(String name) {
        return SqlTerms.doubleQuoted(name);
    }

    @Override
    public boolean canName(String name) {
        return name.length() <= MAX_NAME;
    }

    @Override
    public String literal(Value value, ColumnShape column) {
        return LITERALS.of(value, column);
    }

    /** Empty text is NULL there. */
    @Override
    public void appendHolds(SqlText.Builder sql, ColumnShape column, Value value) {
        String name = quoted(column.name());
        boolean none = value instanceof Value.Null
                || value instanceof Value.Text text && text.value().isEmpty();
        if (none) {
            sql.text(name + " IS NULL");
        } else if (OracleTypes.isLarge(column.declaredType())) {
            sql.text("DBMS_LOB.COMPARE(" + name + ", ").value(value, column).text(") = 0");
        } else if (value instanceof Value.Other other) {
            sql.text("TO_CHAR(" + OracleReading.asText(column) + ") = " + LITERALS.text(other.text()));
        } else {
            sql.text(name + " = ").value(value, column);
        }
    }

    @Override
    public String same(ColumnShape column, String one, String other) {
        return OracleTypes.isLarge(column.declaredType())
                ? "(DBMS_LOB.COMPARE(" + one + ", " + other + ") = 0 OR " + one + " IS NULL AND " + other + " IS NULL)"
                : "DECODE(" + one + ", " + other + ", 1, 0) = 1";
    }

    @Override
    public String fromNothing() {
        return " FROM DUAL";
    }

    @Override
    public String remainder(String number, long divisor) {
        return "MOD(" + number + ", " + divisor + ")";
    }

    @Override
    public boolean holdsAnyValue() {
        return false;
    }

    /** Its making does not end the transaction; known from version 18 on. */
    @Override
    public String temporary(String name) {
        return "ORA$PTT_" + name;
    }

    @Override
    public String stage(String name, String query) {
        return "CREATE PRIVATE TEMPORARY TABLE " + name + " ON COMMIT PRESERVE DEFINITION AS " + query;
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
                .text(" AND ROWNUM = 1")
                .build();
    }

    /** Old versions take one row behind VALUES. */
    @Override
    public String insertRows(String into, List<String> rows) {
        return into + "\n"
                + rows.stream()
                        .map(row ->
                                "SELECT " + row.substring(row.indexOf('(') + 1, row.lastIndexOf(')')) + " FROM DUAL")
                        .collect(Collectors.joining(" UNION ALL\n"));
    }

    @Override
    public String createTable(String name, String query) {
        return "BEGIN\nEXECUTE IMMEDIATE " + LITERALS.text("CREATE TABLE " + name + " AS " + query)
                + ";\nEXCEPTION WHEN OTHERS THEN IF SQLCODE <> -955 THEN RAISE; END IF;\nEND;";
    }

    @Override
    public String ended(String statement) {
        return OracleBlocks.ended(statement);
    }

    @Override
    public List<String> checkShape(TableShape table, String columns) {
        return SqlDialect.super.checkShape(table, columns).stream()
                .map(OracleBlocks::wrapped)
                .toList();
    }

    /** To leave without a word commits, and a text may hold what the client takes for a variable. */
    @Override
    public List<String> stopAtErrors() {
        return List.of(
                "WHENEVER SQLERROR EXIT FAILURE ROLLBACK",
                "WHENEVER OSERROR EXIT FAILURE ROLLBACK",
                "SET EXITCOMMIT OFF",
                "SET DEFINE OFF",
                "SET SQLBLANKLINES ON");
    }

    @Override
    public List<String> saysDone(String what) {
        return List.of("SELECT '" + what + "' AS result FROM DUAL;");
    }

    @Override
    public List<String> beginScript() {
        return List.of("ALTER SESSION SET NLS_COMP = BINARY;", "ALTER SESSION SET NLS_SORT = BINARY;");
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
    public List<String> checkPlace(String location) {
        String service = ServerAddress.of(Address.parse("oracle:" + location)).database();
        return List.of(OracleBlocks.counted(
                "",
                "UPPER(SYS_CONTEXT('USERENV', 'SERVICE_NAME')) = UPPER(" + LITERALS.text(service) + ")",
                "'" + OTHER_PLACE + "'"));
    }

    @Override
    public String countedStatement(
            TableShape table,
            String statement,
            Supplier<Optional<Precondition>> precondition,
            Expected expected,
            String what) {
        return OracleBlocks.counted(
                statement, "SQL%ROWCOUNT = " + expected.sql(), "'" + STOPPED + ": " + what.substring(1));
    }

    @Override
    public Optional<Repetition> repetition() {
        return Optional.of(new CountedInSession());
    }

    @Override
    public List<String> checkCount(TableShape table, Expected expected) {
        return List.of();
    }

    @Override
    public String howToRun(String location) {
        ServerAddress server = ServerAddress.of(Address.parse("oracle:" + location));
        return "NLS_LANG=.AL32UTF8 sqlplus -L -S "
                + ShellText.quoted(
                        server.user().orElse("USER") + "@//" + server.hostAndPort() + "/" + server.database())
                + " @FILE";
    }

    @Override
    public List<String> deferReferences() {
        return List.of("SET CONSTRAINTS ALL DEFERRED");
    }

    @Override
    public List<String> checkReferences() {
        return List.of("SET CONSTRAINTS ALL IMMEDIATE");
    }

    @Override
    public boolean triggersOutside() {
        return true;
    }

    /** By their names: all at once, those would come on that somebody had turned off. */
    @Override
    public List<String> triggersOff(TableShape table) {
        return triggers(table, "DISABLE");
    }

    @Override
    public List<String> triggersOn(TableShape table) {
        return triggers(table, "ENABLE");
    }

    private List<String> triggers(TableShape table, String what) {
        return table.sideEffects().running().stream()
                .map(trigger -> "ALTER TRIGGER " + quote(trigger) + " " + what)
                .toList();
    }

    /** Ends the transaction. A column whose numbers may not be given takes none anyway. */
    @Override
    public List<String> numbersGoOn(TableShape table, ColumnShape column) {
        return column.generation() == Generation.IDENTITY
                ? List.of("ALTER TABLE " + quote(table.name()) + " MODIFY (" + quote(column.name())
                        + " GENERATED BY DEFAULT ON NULL AS IDENTITY (START WITH LIMIT VALUE));")
                : List.of();
    }

    @Override
    public boolean numbersGoOnAfterwards() {
        return true;
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
        return SetForm.MERGE_WHERE;
    }

    @Override
    public String typeName(Kind kind, int size, int scale) {
        return switch (kind) {
            case BOOLEAN -> "NUMBER(1)";
            case INTEGER -> "NUMBER(" + (size == 2 ? 5 : size == 4 ? 10 : 19) + ")";
            case DECIMAL -> size == 0 || size > 38 ? "NUMBER" : "NUMBER(" + size + ", " + scale + ")";
            case FLOAT -> "BINARY_FLOAT";
            case DOUBLE -> "BINARY_DOUBLE";
            case TIME -> "VARCHAR2(18 CHAR) /* CHECK time of day */";
            case UUID -> "VARCHAR2(36 CHAR)";
            case JSON -> "CLOB";
            case TEXT -> size == 0 || size > 1_000 ? "CLOB" : "VARCHAR2(" + size + " CHAR)";
            default -> SqlDialect.super.typeName(kind, size, scale);
        };
    }
}
