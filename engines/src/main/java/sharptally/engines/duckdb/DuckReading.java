package sharptally.engines.duckdb;

import java.math.BigDecimal;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.LocalDateTime;
import java.util.Optional;
import sharptally.core.rows.Column;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.Kind;
import sharptally.core.types.TimeText;
import sharptally.core.types.Value;
import sharptally.engines.jdbc.BulkReading;
import sharptally.engines.jdbc.CellReader;
import sharptally.engines.jdbc.Reading;

/** Reads plain numbers and text as they are, and all else as text, so that infinite times and wide numbers survive. */
final class DuckReading implements Reading {
    private static final String BEFORE_CHRIST = " (BC)";

    static Kind kind(ColumnShape column) {
        return column.type()
                .orElseThrow(() -> new IllegalStateException("no reader for " + column.declaredType()))
                .kind();
    }

    /** A column as text that tells all its values apart. */
    static String asText(ColumnShape column) {
        String name = DuckDialect.quoted(column.name());
        return DuckTypes.isNested(column.declaredType())
                ? "CAST(to_json(" + name + ") AS VARCHAR)"
                : "CAST(" + name + " AS VARCHAR)";
    }

    private static boolean isWide(ColumnShape column) {
        return column.declaredType().contains("HUGE")
                || column.declaredType().equals("UBIGINT")
                || column.declaredType().equals("BIGNUM");
    }

    @Override
    public String selectTerm(ColumnShape column) {
        return switch (kind(column)) {
            case INTEGER -> isWide(column) ? asText(column) : DuckDialect.quoted(column.name());
            case BOOLEAN, FLOAT, DOUBLE, BYTES -> DuckDialect.quoted(column.name());
            default -> asText(column);
        };
    }

    @Override
    public String orderTerm(ColumnShape column) {
        boolean byText = switch (kind(column)) {
            case TEXT, JSON, BITS, OTHER -> true;
            default -> false;
        };
        return (byText ? asText(column) : DuckDialect.quoted(column.name())) + " NULLS FIRST";
    }

    @Override
    public String isAfter(ColumnShape column, String literal) {
        return orderTerm(column).replace(" NULLS FIRST", "") + " > " + literal;
    }

    @Override
    public CellReader reader(ColumnShape column) {
        return switch (kind(column)) {
            case BOOLEAN ->
                (row, i, into) -> {
                    boolean value = row.getBoolean(i);
                    orNull(row, into, () -> into.addBoolean(value));
                };
            case INTEGER ->
                isWide(column)
                        ? text((into, v) -> into.addDecimal(new BigDecimal(v)))
                        : (row, i, into) -> {
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
            case BYTES ->
                (row, i, into) -> {
                    byte[] value = row.getBytes(i);
                    if (value == null) {
                        into.addNull();
                    } else {
                        into.addBytes(value);
                    }
                };
            case DECIMAL -> text((into, v) -> into.addDecimal(new BigDecimal(v)));
            case TEXT -> text(Column::addText);
            case DATE ->
                text((into, v) -> dateTime(v)
                        .ifPresentOrElse(t -> into.addDate(t.toLocalDate().toEpochDay()), () -> infinity(into, v)));
            case TIME ->
                text((into, v) -> TimeText.readTime(v).ifPresentOrElse(into::addTime, () -> infinity(into, v)));
            case TIMESTAMP ->
                text((into, v) -> dateTime(v).ifPresentOrElse(into::addTimestamp, () -> infinity(into, v)));
            case INSTANT ->
                text((into, v) -> dateTime(v.replace("+00", ""))
                        .ifPresentOrElse(
                                t -> into.addInstant(t.toEpochSecond(java.time.ZoneOffset.UTC), t.getNano()),
                                () -> infinity(into, v)));
            case UUID ->
                text((into, v) -> {
                    var uuid = java.util.UUID.fromString(v);
                    into.addUuid(uuid.getMostSignificantBits(), uuid.getLeastSignificantBits());
                });
            case JSON -> text((into, v) -> into.add(new Value.Other("json", v)));
            case BITS -> text((into, v) -> into.add(new Value.Other("bits", v)));
            case OTHER -> text((into, v) -> into.add(new Value.Other(column.declaredType(), v)));
            case ANY -> throw new IllegalStateException("DuckDB has no column without a type");
        };
    }

    private static Optional<LocalDateTime> dateTime(String text) {
        return text.endsWith(BEFORE_CHRIST)
                ? TimeText.readTimestamp(text.substring(0, text.length() - BEFORE_CHRIST.length()))
                        .map(t -> t.withYear(1 - t.getYear()))
                : TimeText.readTimestamp(text);
    }

    private static void infinity(Column into, String text) {
        into.add(new Value.Other("time", text));
    }

    private interface Adder {
        void add(Column into, String value);
    }

    private static CellReader text(Adder adder) {
        return (row, i, into) -> {
            String value = row.getString(i);
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
    public PreparedStatement openForStreaming(Connection connection, String sql) throws SQLException {
        return connection.prepareStatement(sql);
    }

    @Override
    public Optional<BulkReading> bulk() {
        return Optional.empty();
    }
}
