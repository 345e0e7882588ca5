package sharptally.engines.any;

import java.math.BigDecimal;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Timestamp;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.util.Optional;
import sharptally.core.place.part.Seek;
import sharptally.core.rows.Column;
import sharptally.core.shape.ColumnShape;
import sharptally.engines.jdbc.BulkReading;
import sharptally.engines.jdbc.CellReader;
import sharptally.engines.jdbc.CellReaders;
import sharptally.engines.jdbc.Reading;

/** Reads by the standard accessors. The order is the database's own; where it is not ours, rows are sorted here. */
final class AnyReading implements Reading {
    private static final int ROWS_PER_FETCH = 1_000;

    @Override
    public String selectTerm(ColumnShape column) {
        return StandardDialect.quoted(column.name());
    }

    @Override
    public String orderTerm(ColumnShape column) {
        return StandardDialect.quoted(column.name());
    }

    @Override
    public String compared(ColumnShape column, String operator, String literal) {
        return StandardDialect.quoted(column.name()) + " " + operator + " " + literal;
    }

    @Override
    public Seek seek(ColumnShape column) {
        return switch (column.type().map(t -> t.kind()).orElse(sharptally.core.types.Kind.OTHER)) {
            case INTEGER, DECIMAL, DATE, TIMESTAMP -> Seek.BY_INDEX;
            default -> Seek.NEVER;
        };
    }

    @Override
    public CellReader reader(ColumnShape column) {
        return switch (column.type()
                .orElseThrow(() -> new IllegalStateException("no reader for " + column.declaredType()))
                .kind()) {
            case BOOLEAN -> CellReaders.booleans();
            case INTEGER -> CellReaders.integers();
            case FLOAT -> CellReaders.floats();
            case DOUBLE -> CellReaders.doubles();
            case DECIMAL -> CellReaders.of(ResultSet::getBigDecimal, (Column into, BigDecimal v) -> into.addDecimal(v));
            case TEXT -> CellReaders.texts();
            case BYTES -> CellReaders.bytes();
            case DATE -> CellReaders.object(LocalDate.class, (into, v) -> into.addDate(v.toEpochDay()));
            case TIME -> CellReaders.object(LocalTime.class, (into, v) -> into.addTime(v.toNanoOfDay()));
            case TIMESTAMP ->
                CellReaders.of(
                        (row, i) -> row.getTimestamp(i, UtcTimestamps.calendar()),
                        (Column into, Timestamp v) -> into.addTimestamp(UtcTimestamps.read(v)));
            case INSTANT ->
                CellReaders.object(OffsetDateTime.class, (into, v) -> into.addInstant(v.toEpochSecond(), v.getNano()));
            case UUID -> CellReaders.uuids();
            case JSON, BITS, OTHER, ANY -> throw new IllegalStateException("no standard reader for " + column);
        };
    }

    @Override
    public String limited(String sql, long rows, long skipped) {
        return sql + (skipped == 0 ? "" : " OFFSET " + skipped + " ROWS") + " FETCH FIRST " + rows + " ROWS ONLY";
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
