package sharptally.engines.oracle;

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

/** Reads rows as the server sends them; times as text of a form that is named, so that no setting of a session changes it. */
final class OracleReading implements Reading {
    private static final int ROWS_PER_FETCH = 1_000;

    static Kind kind(ColumnShape column) {
        return column.type()
                .orElseThrow(() -> new IllegalStateException("no reader for " + column.declaredType()))
                .kind();
    }

    /** A column as text that tells all its values apart. */
    static String asText(ColumnShape column) {
        String name = OracleDialect.quoted(column.name());
        int digits = column.type().orElseThrow().digits();
        String form = "'YYYY-MM-DD HH24:MI:SS" + (digits == 0 ? "" : ".FF" + digits) + "'";
        return switch (kind(column)) {
            case TIMESTAMP -> "TO_CHAR(" + name + ", " + form + ")";
            case INSTANT -> "TO_CHAR(SYS_EXTRACT_UTC(" + name + "), " + form + ")";
            case JSON -> "JSON_SERIALIZE(" + name + " RETURNING CLOB)";
            case OTHER ->
                switch (OracleTypes.base(column.declaredType())) {
                    case "XMLTYPE" -> "XMLSERIALIZE(CONTENT " + name + " AS CLOB)";
                    case "ROWID", "UROWID" -> "ROWIDTOCHAR(" + name + ")";
                    default -> "TO_CHAR(" + name + ")";
                };
            default -> name;
        };
    }

    @Override
    public String selectTerm(ColumnShape column) {
        return asText(column);
    }

    @Override
    public String orderTerm(ColumnShape column) {
        String name = OracleDialect.quoted(column.name());
        return switch (kind(column)) {
            case JSON -> asText(column) + " NULLS FIRST";
            case OTHER -> asText(column) + " NULLS FIRST";
            default -> name + " NULLS FIRST";
        };
    }

    @Override
    public String compared(ColumnShape column, String operator, String literal) {
        return OracleDialect.quoted(column.name()) + " " + operator + " " + literal;
    }

    /** The order of text is that of the database's own character set, which need not be UTF-8. */
    @Override
    public Seek seek(ColumnShape column) {
        return switch (kind(column)) {
            case INTEGER, DECIMAL, TIMESTAMP, INSTANT -> Seek.BY_INDEX;
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
            case TIMESTAMP ->
                CellReaders.string((into, v) ->
                        TimeText.readTimestamp(v).ifPresentOrElse(into::addTimestamp, () -> into.addText(v)));
            case INSTANT ->
                CellReaders.string((into, v) -> TimeText.readTimestamp(v)
                        .ifPresentOrElse(
                                t -> into.addInstant(t.toEpochSecond(ZoneOffset.UTC), t.getNano()),
                                () -> into.addText(v)));
            case JSON -> CellReaders.others("json");
            case OTHER -> CellReaders.others(column.declaredType());
            case DATE, TIME, UUID, BITS, ANY -> throw new IllegalStateException("Oracle has no such column: " + column);
        };
    }

    @Override
    public String limited(String sql, long rows, long skipped) {
        return sql + (skipped == 0 ? "" : " OFFSET " + skipped + " ROWS") + " FETCH NEXT " + rows + " ROWS ONLY";
    }

    @Override
    public PreparedStatement openForStreaming(Connection connection, String sql) throws SQLException {
        PreparedStatement statement =
                connection.prepareStatement(sql, ResultSet.TYPE_FORWARD_ONLY, ResultSet.CONCUR_READ_ONLY);
        statement.setFetchSize(ROWS_PER_FETCH);
        return statement;
    }

    @Override
    public Optional<BulkReading> bulk() {
        return Optional.empty();
    }
}
