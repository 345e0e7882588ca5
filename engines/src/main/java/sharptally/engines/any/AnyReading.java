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
import java.util.UUID;
import sharptally.core.rows.Column;
import sharptally.core.shape.ColumnShape;
import sharptally.engines.jdbc.BulkReading;
import sharptally.engines.jdbc.CellReader;
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
    public String isAfter(ColumnShape column, String literal) {
        return StandardDialect.quoted(column.name()) + " > " + literal;
    }

    @Override
    public CellReader reader(ColumnShape column) {
        return switch (column.type()
                .orElseThrow(() -> new IllegalStateException("no reader for " + column.declaredType()))
                .kind()) {
            case BOOLEAN -> read(ResultSet::getBoolean, Column::addBoolean);
            case INTEGER -> read(ResultSet::getLong, Column::addInt);
            case FLOAT -> read(ResultSet::getFloat, Column::addFloat);
            case DOUBLE -> read(ResultSet::getDouble, Column::addDouble);
            case DECIMAL -> read(ResultSet::getBigDecimal, (Column into, BigDecimal v) -> into.addDecimal(v));
            case TEXT -> read(ResultSet::getString, (Column into, String v) -> into.addText(v));
            case BYTES -> read(ResultSet::getBytes, (Column into, byte[] v) -> into.addBytes(v));
            case DATE -> read((row, i) -> row.getObject(i, LocalDate.class), (into, v) -> into.addDate(v.toEpochDay()));
            case TIME ->
                read((row, i) -> row.getObject(i, LocalTime.class), (into, v) -> into.addTime(v.toNanoOfDay()));
            case TIMESTAMP ->
                read(ResultSet::getTimestamp, (Column into, Timestamp v) -> into.addTimestamp(v.toLocalDateTime()));
            case INSTANT ->
                read(
                        (row, i) -> row.getObject(i, OffsetDateTime.class),
                        (into, v) -> into.addInstant(v.toEpochSecond(), v.getNano()));
            case UUID ->
                read(
                        (row, i) -> UUID.fromString(row.getString(i)),
                        (into, v) -> into.addUuid(v.getMostSignificantBits(), v.getLeastSignificantBits()));
            case JSON, BITS, OTHER, ANY -> throw new IllegalStateException("no standard reader for " + column);
        };
    }

    private interface Getter<T> {
        @org.jspecify.annotations.Nullable
        T get(ResultSet row, int index) throws SQLException;
    }

    private interface Adder<T> {
        void add(Column into, T value);
    }

    private static <T> CellReader read(Getter<T> getter, Adder<T> adder) {
        return (row, i, into) -> {
            T value = getter.get(row, i);
            if (value == null || row.wasNull()) {
                into.addNull();
            } else {
                adder.add(into, value);
            }
        };
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
