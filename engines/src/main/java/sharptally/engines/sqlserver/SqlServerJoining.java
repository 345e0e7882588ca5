package sharptally.engines.sqlserver;

import java.util.Optional;
import sharptally.core.place.Address;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableName;
import sharptally.core.types.Kind;
import sharptally.engines.jdbc.connect.ServerAddress;
import sharptally.engines.jdbc.join.Joining;

/**
 * Joins tables of one server, of any of its databases. A transaction that sees one state can't look into a database that keeps none,
 * so that both must keep them or neither.
 */
final class SqlServerJoining implements Joining {
    /** The server, since when it runs, and in its edition without queries across databases the database too. */
    private static final String INSTANCE = "SELECT CONVERT(nvarchar(128), SERVERPROPERTY('ServerName')) + N' '"
            + " + CONVERT(nvarchar(20), SERVERPROPERTY('ProcessID')) + N' '"
            + " + (SELECT CONVERT(nvarchar(30), create_date, 121) FROM sys.databases WHERE name = N'tempdb') + N' '"
            + " + (SELECT CONVERT(nvarchar(3), snapshot_isolation_state) FROM sys.databases WHERE database_id = DB_ID())"
            + " + CASE WHEN CONVERT(int, SERVERPROPERTY('EngineEdition')) = 5 THEN N' ' + DB_NAME() ELSE N'' END";

    @Override
    public String instance() {
        return INSTANCE;
    }

    @Override
    public Outer outer() {
        return Outer.FULL;
    }

    @Override
    public Optional<String> reader() {
        return Optional.of("SELECT ORIGINAL_LOGIN() + N' ' + SUSER_SNAME()");
    }

    @Override
    public Optional<String> names() {
        return Optional.of("SELECT DB_NAME() + N'.' + COALESCE(SCHEMA_NAME(), N'')");
    }

    @Override
    public TableName named(Address other, TableName table) {
        String database = ServerAddress.of(other).database();
        return TableName.of(database + SqlServerDialect.WITHIN + table.schema().orElse(""), table.name());
    }

    /** Beside the equality by which an index is used: databases may differ in their collations. */
    @Override
    public String same(ColumnShape one, ColumnShape other) {
        return text(one) + " = " + text(other);
    }

    /** Sets take NULL for equal to itself. */
    @Override
    public String distinct(ColumnShape one, ColumnShape other) {
        boolean alike = one.declaredType().equals(other.declaredType());
        return "NOT EXISTS (SELECT " + form(one, alike) + " INTERSECT SELECT " + form(other, alike) + ")";
    }

    /**
     * @param alike whether the other one is of the same type; else digits might be cut to fit both
     */
    private static String form(ColumnShape column, boolean alike) {
        String name = SqlServerDialect.quoted(column.name());
        Kind kind = SqlServerReading.kind(column);
        return switch (kind) {
            case TEXT, JSON, OTHER -> text(column);
            case BYTES -> "CONVERT(varbinary(max), " + name + "), DATALENGTH(" + name + ")";
            case DECIMAL, TIME, TIMESTAMP, INSTANT -> alike ? name : SqlServerReading.asText(column);
            default -> name;
        };
    }

    /** With a letter behind, as blanks at the end do not count. */
    private static String text(ColumnShape column) {
        return "(" + SqlServerReading.asText(column) + " + N'|') COLLATE " + SqlServerDialect.BINARY;
    }
}
