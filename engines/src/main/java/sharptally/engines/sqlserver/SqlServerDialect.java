package sharptally.engines.sqlserver;

import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import sharptally.core.place.Address;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Generation;
import sharptally.core.shape.TableName;
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
import sharptally.engines.jdbc.connect.ServerAddress;

/**
 * Statements for SQL Server and its client. An error that is thrown ends the batch in which it stands and takes the transaction back;
 * batches behind it do nothing, as each looks for the transaction first.
 */
final class SqlServerDialect implements SqlDialect {
    /** Tells all texts apart, but for blanks at their end. */
    static final String BINARY = "Latin1_General_100_BIN2";

    private static final SqlServerLiterals LITERALS = new SqlServerLiterals();
    private static final int MAX_NAME = 128;

    /** What stands between a database and a schema in the name of a table of another database; no name has it. */
    static final char WITHIN = '\0';

    /** Of so many statements the server makes one plan, and it keeps all of it in memory. */
    private static final long TOGETHER = 500;

    private static final String VARIABLES = "DECLARE @rows bigint;";

    private static final String COUNTS = "#sharp_tally_";

    /** Old types that know no equality. */
    private static final Set<String> LARGE = Set.of("text", "ntext");

    static String quoted(String name) {
        return '[' + name.replace("]", "]]") + ']';
    }

    @Override
    public String quote(String name) {
        return quoted(name);
    }

    @Override
    public String quote(TableName table) {
        return table.schema()
                        .map(schema -> Stream.of(schema.split(String.valueOf(WITHIN)))
                                .map(part -> quote(part) + ".")
                                .collect(Collectors.joining()))
                        .orElse("")
                + quote(table.name());
    }

    @Override
    public boolean canName(String name) {
        return name.length() <= MAX_NAME;
    }

    /** Those beyond the basic plane are two. */
    @Override
    public long characters(String text) {
        return text.length();
    }

    @Override
    public String literal(Value value, ColumnShape column) {
        return LITERALS.of(value, column);
    }

    /** Equality passes over blanks and zeros at the end, so that a letter is put behind, and lengths are looked at. */
    @Override
    public void appendHolds(SqlText.Builder sql, ColumnShape column, Value value) {
        String name = quoted(column.name());
        if (value instanceof Value.Null) {
            sql.text(name + " IS NULL");
            return;
        }
        switch (SqlServerReading.kind(column)) {
            case TEXT -> {
                // The first part may use an index, the second one holds no two texts equal.
                boolean large = LARGE.contains(SqlServerTypes.base(column.declaredType()));
                sql.text(large ? name + " IS NOT NULL" : name + " = ");
                if (!large) {
                    sql.value(value, column);
                }
                boolean padded = column.type().orElseThrow().padded();
                String text = large ? SqlServerReading.asText(column) : padded ? "RTRIM(" + name + ")" : name;
                sql.text(" AND CONCAT(" + text + ", N'|') COLLATE " + BINARY + " = CONCAT(")
                        .value(value, column)
                        .text(", N'|')");
            }
            case BYTES -> {
                String bytes = "CONVERT(varbinary(max), " + name + ")";
                sql.text(bytes + " = ").value(value, column);
                sql.text(" AND DATALENGTH(" + bytes + ") = ")
                        .text(value instanceof Value.Bytes b ? Integer.toString(b.value().length) : "-1");
            }
            case JSON, OTHER ->
                sql.text(SqlServerReading.asText(column) + " COLLATE " + BINARY + " = "
                        + LITERALS.text(value instanceof Value.Other other ? other.text() : value.toString()));
            default -> sql.text(name + " = ").value(value, column);
        }
    }

    /** Sets take NULL for equal to itself. */
    @Override
    public String same(ColumnShape column, String one, String other) {
        return "EXISTS (SELECT " + told(column, one) + " INTERSECT SELECT " + told(column, other) + ")";
    }

    private static String told(ColumnShape column, String value) {
        return switch (SqlServerReading.kind(column)) {
            case TEXT, JSON, OTHER -> "(CONVERT(nvarchar(max), " + value + ") + N'|') COLLATE " + BINARY;
            case BYTES -> "CONVERT(varbinary(max), " + value + "), DATALENGTH(" + value + ")";
            default -> value;
        };
    }

    @Override
    public boolean holdsAnyValue() {
        return false;
    }

    @Override
    public String temporary(String name) {
        return "#" + name;
    }

    @Override
    public String stage(String name, String query) {
        return "SELECT * INTO " + name + " FROM " + columnsAlone(query);
    }

    /** A sum of two empty queries, so that a column that numbers rows does not do so in what is made of it. */
    private static String columnsAlone(String query) {
        return "(" + query + " UNION ALL " + query + ") AS sharp_tally_columns";
    }

    @Override
    public String overridingIdentity(TableShape table) {
        return "";
    }

    @Override
    public List<String> beforeInserts(TableShape table) {
        return numbers(table) ? List.of("SET IDENTITY_INSERT " + quote(table.name()) + " ON") : List.of();
    }

    @Override
    public List<String> afterInserts(TableShape table) {
        return numbers(table) ? List.of("SET IDENTITY_INSERT " + quote(table.name()) + " OFF") : List.of();
    }

    private static boolean numbers(TableShape table) {
        return table.columns().stream().anyMatch(c -> c.generation() == Generation.IDENTITY_ALWAYS);
    }

    @Override
    public SqlText deleteOne(TableShape table, SqlText condition) {
        return new SqlText.Builder()
                .text("DELETE TOP (1) FROM " + quote(table.name()) + " WHERE ")
                .append(condition)
                .build();
    }

    @Override
    public String createTable(String name, String query) {
        return "IF OBJECT_ID(" + LITERALS.text(name) + ") IS NULL SELECT * INTO " + name + " FROM "
                + columnsAlone(query);
    }

    private static List<String> settings() {
        return List.of(
                "SET XACT_ABORT ON;",
                "SET NOCOUNT ON;",
                "SET ANSI_NULLS ON;",
                "SET QUOTED_IDENTIFIER ON;",
                "SET CONCAT_NULL_YIELDS_NULL ON;",
                "SET TRANSACTION ISOLATION LEVEL SERIALIZABLE;");
    }

    /** The client stops at the first error; a client that does not, skips what comes behind. */
    @Override
    public List<String> stopAtErrors() {
        return List.of(":on error exit");
    }

    @Override
    public long statementsTogether() {
        return TOGETHER;
    }

    @Override
    public List<String> nextPart() {
        return List.of("GO", "IF @@TRANCOUNT = 0 SET NOEXEC ON;", VARIABLES);
    }

    @Override
    public List<String> leaveClient() {
        return List.of("GO", "SET NOEXEC OFF;", "GO");
    }

    @Override
    public List<String> beginScript() {
        List<String> lines = new java.util.ArrayList<>(settings());
        lines.add(VARIABLES);
        lines.add("BEGIN TRANSACTION;");
        return lines;
    }

    @Override
    public List<String> beginPlain() {
        List<String> lines = new java.util.ArrayList<>(settings());
        lines.add("BEGIN TRANSACTION;");
        return lines;
    }

    @Override
    public List<String> endScript() {
        return List.of("COMMIT TRANSACTION;");
    }

    private static String stopUnless(String condition, String message) {
        return "IF NOT (" + condition + ") BEGIN; THROW 50000, " + message + ", 1; END;";
    }

    @Override
    public List<String> checkPlace(String location) {
        String database =
                ServerAddress.of(Address.parse("sqlserver:" + location)).database();
        return List.of(stopUnless("DB_NAME() = " + LITERALS.text(database), "N'" + OTHER_PLACE + "'"));
    }

    @Override
    public String countedStatement(
            TableShape table,
            String statement,
            Supplier<Optional<Precondition>> precondition,
            Expected expected,
            String what) {
        return statement + ";\nSET @rows = @@ROWCOUNT;\n"
                + stopUnless("@rows = " + expected.sql(), "N'" + STOPPED + ": " + what.substring(1));
    }

    /** Variables end with a batch, temporary tables with the session. */
    @Override
    public Optional<Repetition> repetition() {
        return Optional.of(new CountedByTable(
                "CREATE TABLE #",
                "",
                "#",
                "made bigint, [rows] bigint, go int",
                all -> List.of(stopUnless(
                        "(SELECT sum(made) FROM " + COUNTS + "made) IN (0, " + all + ")",
                        "N'" + Repetition.PARTLY + "'")),
                List.of("DROP TABLE " + COUNTS + "made;", "DROP TABLE " + COUNTS + "go;")));
    }

    @Override
    public List<String> checkCount(TableShape table, Expected expected) {
        return List.of();
    }

    /** Without the client's own variables, which a text might seem to name. */
    @Override
    public String howToRun(String location) {
        ServerAddress server = ServerAddress.of(Address.parse("sqlserver:" + location));
        String host = server.host() + (server.port() < 0 ? "" : "," + server.port());
        return "sqlcmd -S " + ShellText.quoted(host)
                + server.user().map(u -> " -U " + ShellText.quoted(u)).orElse("") + " -d "
                + ShellText.quoted(server.database()) + " -b -x -I -f 65001 -i FILE";
    }

    @Override
    public List<String> lockWait(Duration atMost) {
        return List.of("SET LOCK_TIMEOUT " + Math.max(1, atMost.toMillis()));
    }

    /** By their names: all at once, those would come on that somebody had turned off. */
    @Override
    public List<String> triggersOff(TableShape table) {
        return triggers("DISABLE", table);
    }

    @Override
    public List<String> triggersOn(TableShape table) {
        return triggers("ENABLE", table);
    }

    private List<String> triggers(String what, TableShape table) {
        return table.sideEffects().running().stream()
                .map(trigger -> what + " TRIGGER " + quote(trigger) + " ON " + quote(table.name()))
                .toList();
    }

    /** A key that is looked for and not found stays so until the transaction ends. */
    @Override
    public String merged(TableShape table) {
        return rowsOf(table) + " WITH (HOLDLOCK)";
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
            case BOOLEAN -> "bit";
            case FLOAT -> "real";
            case DOUBLE -> "float(53)";
            case BYTES -> "varbinary(max)";
            case TIMESTAMP -> "datetime2(" + size + ")";
            case INSTANT -> "datetimeoffset(" + size + ")";
            case UUID -> "uniqueidentifier";
            case JSON -> "nvarchar(max)";
            case TEXT -> size == 0 || size > 4_000 ? "nvarchar(max)" : "nvarchar(" + size + ")";
            default -> SqlDialect.super.typeName(kind, size, scale);
        };
    }
}
