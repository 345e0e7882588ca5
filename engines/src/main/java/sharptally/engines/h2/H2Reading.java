package sharptally.engines.h2;

import java.math.BigDecimal;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.util.Optional;
import java.util.UUID;
import sharptally.core.place.part.Seek;
import sharptally.core.rows.Column;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;
import sharptally.engines.jdbc.BulkReading;
import sharptally.engines.jdbc.CellReader;
import sharptally.engines.jdbc.Reading;

/** Reads each type by the accessor that loses nothing of it. */
final class H2Reading implements Reading {
    @Override
    public String selectTerm(ColumnShape column) {
        return H2Dialect.quoted(column.name());
    }

    @Override
    public String orderTerm(ColumnShape column) {
        return H2Dialect.quoted(column.name()) + " NULLS FIRST";
    }

    @Override
    public String compared(ColumnShape column, String operator, String literal) {
        return H2Dialect.quoted(column.name()) + " " + operator + " " + literal;
    }

    @Override
    public Seek seek(ColumnShape column) {
        // Text is ordered by its UTF-16 units, which is not the order of code points.
        return switch (column.type().map(CanonicalType::kind).orElse(Kind.OTHER)) {
            case INTEGER, DECIMAL, DATE, TIME, TIMESTAMP, INSTANT -> Seek.BY_INDEX;
            default -> Seek.NEVER;
        };
    }

    @Override
    public CellReader reader(ColumnShape column) {
        String type = column.declaredType();
        return switch (column.type()
                .orElseThrow(() -> new IllegalStateException("no reader for " + type))
                .kind()) {
            case BOOLEAN ->
                (row, i, into) -> {
                    boolean value = row.getBoolean(i);
                    orNull(row, into, () -> into.addBoolean(value));
                };
            case INTEGER ->
                (row, i, into) -> {
                    long value = row.getLong(i);
                    orNull(row, into, () -> into.addInt(value));
                };
            case FLOAT ->
                (row, i, into) -> {
                    float value = row.getFloat(i);
                    orNull(row, into, () -> into.addFloat(value));
                };
            case DOUBLE ->
                (row, i, into) -> {
                    double value = row.getDouble(i);
                    orNull(row, into, () -> into.addDouble(value));
                };
            case DECIMAL -> object(BigDecimal.class, Column::addDecimal);
            case TEXT -> object(String.class, Column::addText);
            case BYTES -> object(byte[].class, Column::addBytes);
            case DATE -> object(LocalDate.class, (into, v) -> into.addDate(v.toEpochDay()));
            case TIME -> object(LocalTime.class, (into, v) -> into.addTime(v.toNanoOfDay()));
            case TIMESTAMP -> object(LocalDateTime.class, Column::addTimestamp);
            case INSTANT -> object(OffsetDateTime.class, (into, v) -> into.addInstant(v.toEpochSecond(), v.getNano()));
            case UUID ->
                object(UUID.class, (into, v) -> into.addUuid(v.getMostSignificantBits(), v.getLeastSignificantBits()));
            case JSON -> object(String.class, (into, v) -> into.add(new Value.Other("json", v)));
            case OTHER -> object(String.class, (into, v) -> into.add(new Value.Other(type, v)));
            case ANY, BITS -> throw new IllegalStateException("H2 has no column without a type");
        };
    }

    private interface Adder<T> {
        void add(Column into, T value);
    }

    private static <T> CellReader object(Class<T> as, Adder<T> adder) {
        return (row, i, into) -> {
            T value = row.getObject(i, as);
            if (value == null) {
                into.addNull();
            } else {
                adder.add(into, value);
            }
        };
    }

    private static void orNull(ResultSet row, Column into, Runnable add) throws SQLException {
        if (row.wasNull()) {
            into.addNull();
        } else {
            add.run();
        }
    }

    @Override
    public String limited(String sql, long rows, long skipped) {
        return sql + " LIMIT " + rows + (skipped == 0 ? "" : " OFFSET " + skipped);
    }

    @Override
    public PreparedStatement openForStreaming(Connection connection, String sql) throws SQLException {
        return connection.prepareStatement(sql, ResultSet.TYPE_FORWARD_ONLY, ResultSet.CONCUR_READ_ONLY);
    }

    @Override
    public Optional<String> byChance(double share) {
        return Optional.of("RAND() < " + BigDecimal.valueOf(share).toPlainString());
    }

    @Override
    public Optional<BulkReading> bulk() {
        return Optional.empty();
    }
}
