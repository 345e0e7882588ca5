package sharptally.engines.mariadb;

import java.math.BigDecimal;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.Optional;
import sharptally.core.rows.Column;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.Kind;
import sharptally.core.types.TimeText;
import sharptally.core.types.Value;
import sharptally.engines.jdbc.BulkReading;
import sharptally.engines.jdbc.CellReader;
import sharptally.engines.jdbc.Reading;

/** Reads rows as the server sends them. Times come as text, so that zero dates and times past a day survive. */
final class MariaReading implements Reading {
    private static final int ROWS_PER_FETCH = 2_000;

    static Kind kind(ColumnShape column) {
        return column.type()
                .orElseThrow(() -> new IllegalStateException("no reader for " + column.declaredType()))
                .kind();
    }

    @Override
    public String selectTerm(ColumnShape column) {
        String name = MariaDialect.quoted(column.name());
        return switch (kind(column)) {
            case DATE, TIME, TIMESTAMP, INSTANT, UUID, OTHER -> "CAST(" + name + " AS CHAR)";
            // MySQL's float loses digits as text, and a sum makes a double of it.
            case FLOAT -> name + " + 0e0";
            case BITS -> "LPAD(BIN(" + name + " + 0), " + width(column) + ", '0')";
            default -> name;
        };
    }

    private static String width(ColumnShape column) {
        return column.declaredType().replaceAll("[^0-9]", "");
    }

    @Override
    public String orderTerm(ColumnShape column) {
        String name = MariaDialect.quoted(column.name());
        return switch (kind(column)) {
            case TEXT, JSON -> MariaDialect.asBytes(column);
            case UUID -> "CAST(" + name + " AS CHAR) COLLATE utf8mb4_bin";
            default -> name;
        };
    }

    @Override
    public String isAfter(ColumnShape column, String literal) {
        return orderTerm(column) + " > " + (kind(column) == Kind.TEXT ? "CAST(" + literal + " AS BINARY)" : literal);
    }

    @Override
    public CellReader reader(ColumnShape column) {
        boolean unsigned = column.declaredType().startsWith("bigint")
                && column.declaredType().contains("unsigned");
        return switch (kind(column)) {
            case INTEGER ->
                unsigned
                        ? string(MariaReading::addUnsigned)
                        : (row, i, into) -> {
                            long value = row.getLong(i);
                            if (row.wasNull()) {
                                into.addNull();
                            } else {
                                into.addInt(value);
                            }
                        };
            case DECIMAL -> string((into, v) -> into.addDecimal(new BigDecimal(v)));
            case FLOAT ->
                (row, i, into) -> {
                    double value = row.getDouble(i);
                    if (row.wasNull()) {
                        into.addNull();
                    } else {
                        into.addFloat((float) value);
                    }
                };
            case DOUBLE ->
                (row, i, into) -> {
                    double value = row.getDouble(i);
                    if (row.wasNull()) {
                        into.addNull();
                    } else {
                        into.addDouble(value);
                    }
                };
            case TEXT -> string(Column::addText);
            case BYTES ->
                (row, i, into) -> {
                    byte[] value = row.getBytes(i);
                    if (value == null) {
                        into.addNull();
                    } else {
                        into.addBytes(value);
                    }
                };
            case DATE ->
                string((into, v) -> TimeText.readTimestamp(v)
                        .ifPresentOrElse(t -> into.addDate(t.toLocalDate().toEpochDay()), () -> into.addText(v)));
            case TIME ->
                string((into, v) -> TimeText.readTime(v).ifPresentOrElse(into::addTime, () -> into.addText(v)));
            case TIMESTAMP ->
                string((into, v) ->
                        TimeText.readTimestamp(v).ifPresentOrElse(into::addTimestamp, () -> into.addText(v)));
            case INSTANT ->
                string((into, v) -> TimeText.readInstant(v)
                        .ifPresentOrElse(t -> into.addInstant(t.getEpochSecond(), t.getNano()), () -> into.addText(v)));
            case UUID ->
                string((into, v) -> {
                    var uuid = java.util.UUID.fromString(v);
                    into.addUuid(uuid.getMostSignificantBits(), uuid.getLeastSignificantBits());
                });
            case JSON -> string((into, v) -> into.add(new Value.Other("json", v)));
            case BITS -> string((into, v) -> into.add(new Value.Other("bits", v)));
            case OTHER -> string((into, v) -> into.add(new Value.Other(column.declaredType(), v)));
            case BOOLEAN, ANY -> throw new IllegalStateException("MariaDB has no such column: " + column);
        };
    }

    private static void addUnsigned(Column into, String digits) {
        if (digits.length() < 19) {
            into.addInt(Long.parseLong(digits));
        } else {
            into.addDecimal(new BigDecimal(digits));
        }
    }

    private interface Adder {
        void add(Column into, String value);
    }

    private static CellReader string(Adder adder) {
        return (row, i, into) -> {
            String value = row.getString(i);
            if (value == null) {
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
        // With a fetch size the driver takes rows as they come; without one it holds them all.
        statement.setFetchSize(ROWS_PER_FETCH);
        return statement;
    }

    @Override
    public Optional<BulkReading> bulk() {
        return Optional.empty();
    }
}
