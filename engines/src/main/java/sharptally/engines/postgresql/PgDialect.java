package sharptally.engines.postgresql;

import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.function.Supplier;
import sharptally.core.place.Address;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Generation;
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

/** Statements for PostgreSQL and its client {@code psql}. */
final class PgDialect implements SqlDialect {
    private static final PgLiterals LITERALS = new PgLiterals();

    private static final int MAX_NAME_BYTES = 63;

    static String quoted(String name) {
        return SqlTerms.doubleQuoted(name);
    }

    @Override
    public String quote(TableName table) {
        return quoted(table.schema().orElse(PgCatalogue.DEFAULT_SCHEMA)) + "." + quoted(table.name());
    }

    @Override
    public String rowsOf(TableShape table) {
        return (table.sideEffects().inherited() ? "ONLY " : "") + quote(table.name());
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
        sql.text(quoted(column.name()));
        if (value instanceof Value.Null) {
            sql.text(" IS NULL");
        } else if (byText(column) && (value instanceof Value.Other || value instanceof Value.Text)) {
            String text = value instanceof Value.Other other ? other.text() : value.toString();
            sql.text("::text COLLATE \"C\" = ").text(LITERALS.text(text));
        } else {
            sql.text(" = ").value(value, column);
        }
    }

    @Override
    public String overridingIdentity(TableShape table) {
        boolean always = table.columns().stream().anyMatch(c -> c.generation() == Generation.IDENTITY_ALWAYS);
        return always ? " OVERRIDING SYSTEM VALUE" : "";
    }

    @Override
    public SqlText deleteOne(TableShape table, SqlText condition) {
        String name = rowsOf(table);
        return new SqlText.Builder()
                .text("DELETE FROM " + name + " WHERE ctid = (SELECT ctid FROM " + name + " WHERE ")
                .append(condition)
                .text(" LIMIT 1)")
                .build();
    }

    @Override
    public boolean canName(String name) {
        return name.getBytes(java.nio.charset.StandardCharsets.UTF_8).length <= MAX_NAME_BYTES;
    }

    @Override
    public List<String> stopAtErrors() {
        return List.of("\\set ON_ERROR_STOP on");
    }

    @Override
    public List<String> beginScript() {
        return List.of(
                "BEGIN;",
                "SET LOCAL standard_conforming_strings = on;",
                "SET LOCAL row_security = off;",
                "CREATE TEMP TABLE row_count (expected bigint, touched bigint, rows text) ON COMMIT DROP;",
                "CREATE TEMP TABLE row_check (expected bigint, touched bigint, rows text,",
                "  CONSTRAINT \"" + STOPPED + "\" CHECK (touched = expected)) ON COMMIT DROP;");
    }

    @Override
    public List<String> beginPlain() {
        return List.of("BEGIN;", "SET LOCAL standard_conforming_strings = on;", "SET LOCAL row_security = off;");
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
        return "WITH t AS (" + statement + " RETURNING 1) INSERT INTO row_count SELECT " + expected.rows()
                + ", count(*), " + what + " FROM t;";
    }

    @Override
    public Optional<Repetition> repetition() {
        return Optional.of(new PgRepetition());
    }

    @Override
    public List<String> checkCount(TableShape table, Expected expected) {
        return List.of(
                expected.toDo().isPresent()
                        ? "INSERT INTO row_check SELECT expected * go, touched, row_count.rows FROM row_count, sharp_tally_go;"
                        : "INSERT INTO row_check SELECT * FROM row_count;",
                "DELETE FROM row_count;");
    }

    @Override
    public String howToRun(String location) {
        ServerAddress server = ServerAddress.of(Address.parse("postgresql:" + location));
        String user = server.user().map(u -> u + "@").orElse("");
        return "psql -q -d "
                + ShellText.inQuotes("postgresql://" + user + server.hostAndPort() + "/" + server.database())
                + " -f FILE";
    }

    @Override
    public List<String> checkPlace(String location) {
        String database =
                ServerAddress.of(Address.parse("postgresql:" + location)).database();
        return List.of(
                "CREATE TEMP TABLE place_check (place text, CONSTRAINT \"" + OTHER_PLACE + "\" CHECK (place = "
                        + LITERALS.text(database) + ")) ON COMMIT DROP;",
                "INSERT INTO place_check VALUES (current_database());");
    }

    @Override
    public List<String> checkShape(TableShape table, String columns) {
        return List.of("INSERT INTO row_count SELECT 0, 0, '' FROM (SELECT " + columns + " FROM " + rowsOf(table)
                + " WHERE false) shape;");
    }

    /** Literals in quotes are text there. */
    @Override
    public String chosen(String expression, ColumnShape column) {
        return PgReading.kind(column) == Kind.UUID ? "(" + expression + ")::uuid" : expression;
    }

    @Override
    public List<String> numbersGoOn(TableShape table, ColumnShape column) {
        String name = quote(table.name());
        String sequence = "pg_get_serial_sequence(" + LITERALS.text(name) + ", " + LITERALS.text(column.name()) + ")";
        return List.of("DO $$ BEGIN PERFORM setval(s, n) FROM (SELECT " + sequence + "::regclass AS s, max("
                + quoted(column.name()) + ") AS n FROM " + rowsOf(table)
                + ") numbers WHERE s IS NOT NULL AND n > coalesce(pg_sequence_last_value(s), 0); END $$;");
    }

    @Override
    public List<String> lockWait(Duration atMost) {
        return List.of("SET LOCAL lock_timeout = '" + atMost.toMillis() + "ms'");
    }

    @Override
    public boolean lockWaitOfTransaction() {
        return true;
    }

    @Override
    public List<String> holdStill(TableName table) {
        return List.of("LOCK TABLE " + quote(table) + " IN SHARE ROW EXCLUSIVE MODE");
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
    public List<String> triggersOff(TableShape table) {
        return List.of("ALTER TABLE " + quote(table.name()) + " DISABLE TRIGGER USER");
    }

    @Override
    public List<String> triggersOn(TableShape table) {
        return List.of(
                // A table with checks still to be made can't be altered.
                "SET CONSTRAINTS ALL IMMEDIATE", "ALTER TABLE " + quote(table.name()) + " ENABLE TRIGGER USER");
    }

    @Override
    public boolean isFasterTogether() {
        return true;
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
    public String stage(String name, String query) {
        return "CREATE TEMP TABLE " + name + " ON COMMIT DROP AS " + query;
    }

    /**
     * Some types have no equality, others hold different texts equal. A jsonb is not kept as it was written, so that what
     * came from elsewhere is found again by its own equality alone.
     */
    private static boolean byText(ColumnShape column) {
        Kind kind = PgReading.kind(column);
        if (column.declaredType().equals("jsonb")) {
            return false;
        }
        return kind == Kind.OTHER || kind == Kind.JSON || column.isLoose();
    }

    @Override
    public String same(ColumnShape column, String one, String other) {
        return byText(column)
                ? one + "::text COLLATE \"C\" IS NOT DISTINCT FROM " + other + "::text COLLATE \"C\""
                : one + " IS NOT DISTINCT FROM " + other;
    }

    @Override
    public String typeName(Kind kind, int size, int scale) {
        return switch (kind) {
            case DECIMAL -> size == 0 ? "numeric" : "numeric(" + size + ", " + scale + ")";
            case BYTES -> "bytea";
            case JSON -> "jsonb";
            case TEXT -> size == 0 ? "text" : "varchar(" + size + ")";
            default -> SqlDialect.super.typeName(kind, size, scale);
        };
    }
}
