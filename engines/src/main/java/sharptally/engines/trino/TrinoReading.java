package sharptally.engines.trino;

import java.math.BigDecimal;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.ZoneOffset;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import sharptally.core.place.part.Seek;
import sharptally.core.rows.Column;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.core.types.TimeText;
import sharptally.core.types.Value;
import sharptally.engines.jdbc.BulkReading;
import sharptally.engines.jdbc.CellReader;
import sharptally.engines.jdbc.CellReaders;
import sharptally.engines.jdbc.Reading;

/** Reads times as text, whose twelve digits the driver's own classes do not hold, and nested values as JSON. */
final class TrinoReading implements Reading {
    /** Beyond the nine digits that times have here; they count where they are not zero. */
    private static final Pattern PICOS = Pattern.compile("(.*\\.\\d{9})(\\d{1,3})");

    static Kind kind(ColumnShape column) {
        return column.type()
                .orElseThrow(() -> new IllegalStateException("no reader for " + column.declaredType()))
                .kind();
    }

    /** A column as text that tells all its values apart. */
    static String asText(ColumnShape column) {
        String name = TrinoDialect.quoted(column.name());
        return switch (kind(column)) {
            case INSTANT ->
                "CAST(CAST(" + name + " AT TIME ZONE 'UTC' AS timestamp(" + digits(column) + ")) AS varchar)";
            case JSON ->
                TrinoTypes.isNested(column.declaredType())
                        ? "json_format(CAST(" + name + " AS json))"
                        : "json_format(" + name + ")";
            default -> "CAST(" + name + " AS varchar)";
        };
    }

    private static int digits(ColumnShape column) {
        return TrinoTypes.digits(column.declaredType());
    }

    @Override
    public String selectTerm(ColumnShape column) {
        return switch (kind(column)) {
            case DATE, TIME, TIMESTAMP, INSTANT, JSON, OTHER -> asText(column);
            default -> TrinoDialect.quoted(column.name());
        };
    }

    @Override
    public String orderTerm(ColumnShape column) {
        return term(column) + " NULLS FIRST";
    }

    private static String term(ColumnShape column) {
        return switch (kind(column)) {
            case JSON, OTHER -> asText(column);
            default -> TrinoDialect.quoted(column.name());
        };
    }

    @Override
    public String compared(ColumnShape column, String operator, String literal) {
        return term(column) + " " + operator + " " + literal;
    }

    /** It knows no indexes, whatever the system behind it has. */
    @Override
    public Seek seek(ColumnShape column) {
        return switch (kind(column)) {
            case INTEGER, DECIMAL, TEXT, BYTES, DATE -> Seek.BY_SCAN;
            case TIME, TIMESTAMP, INSTANT -> digits(column) <= CanonicalType.ANY_DIGITS ? Seek.BY_SCAN : Seek.NEVER;
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
                times((into, v) -> TimeText.readTimestamp(v)
                        .map(t -> added(() -> into.addDate(t.toLocalDate().toEpochDay()))));
            case TIME -> times((into, v) -> TimeText.readTime(v).map(t -> added(() -> into.addTime(t))));
            case TIMESTAMP -> times((into, v) -> TimeText.readTimestamp(v).map(t -> added(() -> into.addTimestamp(t))));
            case INSTANT ->
                times((into, v) -> TimeText.readTimestamp(v)
                        .map(t -> added(() -> into.addInstant(t.toEpochSecond(ZoneOffset.UTC), t.getNano()))));
            case UUID -> CellReaders.uuids();
            case JSON -> CellReaders.others("json");
            case OTHER -> CellReaders.others(column.declaredType());
            case BITS, ANY -> throw new IllegalStateException("Trino has no such column: " + column);
        };
    }

    private interface TimeReader {
        /** True when it was added; empty when the text is no time of ours. */
        Optional<Boolean> add(Column into, String text);
    }

    private static boolean added(Runnable adding) {
        adding.run();
        return true;
    }

    private static CellReader times(TimeReader reader) {
        return CellReaders.string((into, text) -> {
            Matcher picos = PICOS.matcher(text);
            boolean finer = picos.matches();
            boolean held = !finer || picos.group(2).chars().allMatch(c -> c == '0');
            if (!held || reader.add(into, finer ? picos.group(1) : text).isEmpty()) {
                into.add(new Value.Other("time", text));
            }
        });
    }

    @Override
    public String limited(String sql, long rows, long skipped) {
        return sql + (skipped == 0 ? "" : " OFFSET " + skipped) + " LIMIT " + rows;
    }

    @Override
    public PreparedStatement openForStreaming(Connection connection, String sql) throws SQLException {
        return connection.prepareStatement(sql);
    }

    @Override
    public Optional<String> byChance(double share) {
        return Optional.of("random() < " + BigDecimal.valueOf(share).toPlainString());
    }

    @Override
    public Optional<BulkReading> bulk() {
        return Optional.empty();
    }
}
