package sharptally.engines.sqlserver;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.ZoneOffset;
import java.util.Optional;
import sharptally.core.place.part.Seek;
import sharptally.core.rows.Column;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.Kind;
import sharptally.core.types.TimeText;
import sharptally.engines.jdbc.BulkReading;
import sharptally.engines.jdbc.CellReader;
import sharptally.engines.jdbc.CellReaders;
import sharptally.engines.jdbc.Reading;

/** Reads rows as the server sends them; times as text, whose form no language of a session changes. */
final class SqlServerReading implements Reading {
    static Kind kind(ColumnShape column) {
        return column.type()
                .orElseThrow(() -> new IllegalStateException("no reader for " + column.declaredType()))
                .kind();
    }

    /** A column as text that tells all its values apart. */
    static String asText(ColumnShape column) {
        String name = SqlServerDialect.quoted(column.name());
        int digits = column.type().orElseThrow().digits();
        return switch (kind(column)) {
            case DATE -> "CONVERT(varchar(10), " + name + ", 23)";
            case TIME -> "CONVERT(varchar(16), " + name + ", 121)";
            case TIMESTAMP -> "CONVERT(varchar(27), " + name + ", " + (digits == 0 ? "120" : "121") + ")";
            case INSTANT ->
                "CONVERT(varchar(27), CONVERT(datetime2(" + digits + "), SWITCHOFFSET(" + name + ", '+00:00')), "
                        + (digits == 0 ? "120" : "121") + ")";
            case UUID -> "CONVERT(varchar(36), " + name + ")";
            case OTHER ->
                SqlServerTypes.base(column.declaredType()).equals("hierarchyid")
                        ? name + ".ToString()"
                        : "CONVERT(nvarchar(max), " + name + ")";
            default -> "CONVERT(nvarchar(max), " + name + ")";
        };
    }

    @Override
    public String selectTerm(ColumnShape column) {
        return switch (kind(column)) {
            case DATE, TIME, TIMESTAMP, INSTANT, UUID, JSON, OTHER -> asText(column);
            default -> SqlServerDialect.quoted(column.name());
        };
    }

    /** NULL comes first by itself. What large old types hold can't be ordered as it is. */
    @Override
    public String orderTerm(ColumnShape column) {
        String name = SqlServerDialect.quoted(column.name());
        return switch (kind(column)) {
            case TEXT -> asText(column) + " COLLATE " + SqlServerDialect.BINARY;
            case JSON, OTHER -> asText(column);
            case BYTES -> "CONVERT(varbinary(max), " + name + ")";
            default -> name;
        };
    }

    @Override
    public String compared(ColumnShape column, String operator, String literal) {
        return orderTerm(column) + " " + operator + " " + literal;
    }

    /**
     * The order of text is by its units of 16 bits, that of bytes takes no heed of zeros at the end, and that of a
     * {@code uniqueidentifier} begins with its last bytes: none is ours.
     */
    @Override
    public Seek seek(ColumnShape column) {
        return switch (kind(column)) {
            case INTEGER, DECIMAL, DATE, TIME, TIMESTAMP, INSTANT -> Seek.BY_INDEX;
            default -> Seek.NEVER;
        };
    }

    @Override
    public CellReader reader(ColumnShape column) {
        return switch (kind(column)) {
            case BOOLEAN -> CellReaders.booleans();
            case INTEGER -> CellReaders.integers();
            case DECIMAL -> CellReaders.of(ResultSet::getBigDecimal, Column::addDecimal);
            case FLOAT -> CellReaders.floats();
            case DOUBLE -> CellReaders.doubles();
            case TEXT -> CellReaders.texts();
            case BYTES -> CellReaders.bytes();
            case DATE ->
                CellReaders.string((into, v) -> TimeText.readTimestamp(v)
                        .ifPresentOrElse(t -> into.addDate(t.toLocalDate().toEpochDay()), () -> into.addText(v)));
            case TIME ->
                CellReaders.string(
                        (into, v) -> TimeText.readTime(v).ifPresentOrElse(into::addTime, () -> into.addText(v)));
            case TIMESTAMP ->
                CellReaders.string((into, v) ->
                        TimeText.readTimestamp(v).ifPresentOrElse(into::addTimestamp, () -> into.addText(v)));
            case INSTANT ->
                CellReaders.string((into, v) -> TimeText.readTimestamp(v)
                        .ifPresentOrElse(
                                t -> into.addInstant(t.toEpochSecond(ZoneOffset.UTC), t.getNano()),
                                () -> into.addText(v)));
            case UUID -> CellReaders.uuids();
            case JSON -> CellReaders.others("json");
            case OTHER -> CellReaders.others(column.declaredType());
            case BITS, ANY -> throw new IllegalStateException("SQL Server has no such column: " + column);
        };
    }

    /** Without an order, rows can't be passed over. */
    @Override
    public String limited(String sql, long rows, long skipped) {
        if (skipped == 0) {
            return "SELECT TOP (" + rows + ")" + sql.substring("SELECT".length());
        }
        return sql + (sql.contains(" ORDER BY ") ? "" : " ORDER BY (SELECT NULL)") + " OFFSET " + skipped
                + " ROWS FETCH NEXT " + rows + " ROWS ONLY";
    }

    /** The driver takes rows as they come where they are read forwards only. */
    @Override
    public PreparedStatement openForStreaming(Connection connection, String sql) throws SQLException {
        return connection.prepareStatement(sql, ResultSet.TYPE_FORWARD_ONLY, ResultSet.CONCUR_READ_ONLY);
    }

    @Override
    public Optional<BulkReading> bulk() {
        return Optional.empty();
    }
}
