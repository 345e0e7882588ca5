package sharptally.engines.duckdb;

import java.math.BigDecimal;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import sharptally.core.place.part.Seek;
import sharptally.core.rows.Column;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.Kind;
import sharptally.core.types.TimeText;
import sharptally.core.types.Value;
import sharptally.engines.jdbc.BulkReading;
import sharptally.engines.jdbc.CellReader;
import sharptally.engines.jdbc.CellReaders;
import sharptally.engines.jdbc.Reading;

/** Reads plain numbers and text as they are, and all else as text, so that infinite times and wide numbers survive. */
final class DuckReading implements Reading {
    /** The mark of years before the common era stands behind the date, whatever follows. */
    private static final Pattern BEFORE_CHRIST = Pattern.compile("(\\d+)(-\\d\\d-\\d\\d) \\(BC\\)(.*)");

    static Kind kind(ColumnShape column) {
        return column.type()
                .orElseThrow(() -> new IllegalStateException("no reader for " + column.declaredType()))
                .kind();
    }

    /** A column as text that tells all its values apart. */
    static String asText(ColumnShape column) {
        String name = DuckDialect.quoted(column.name());
        if (EmbeddedConnector.isPosition(column)) {
            return "main." + column.declaredType() + "(" + name + ")";
        }
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
    public String compared(ColumnShape column, String operator, String literal) {
        return orderTerm(column).replace(" NULLS FIRST", "") + " " + operator + " " + literal;
    }

    @Override
    public Seek seek(ColumnShape column) {
        // The least and greatest value of each block of rows serve as well as an index.
        return switch (kind(column)) {
            case TEXT, JSON, BITS, OTHER -> Seek.BY_SCAN;
            default -> Seek.BY_INDEX;
        };
    }

    @Override
    public CellReader reader(ColumnShape column) {
        return switch (kind(column)) {
            case BOOLEAN -> CellReaders.booleans();
            case INTEGER ->
                isWide(column)
                        ? CellReaders.string((into, v) -> into.addDecimal(new BigDecimal(v)))
                        : CellReaders.integers();
            case FLOAT -> CellReaders.floats();
            case DOUBLE -> CellReaders.doubles();
            case BYTES -> CellReaders.bytes();
            case DECIMAL -> CellReaders.string((into, v) -> into.addDecimal(new BigDecimal(v)));
            case TEXT -> CellReaders.texts();
            case DATE ->
                times((into, v) -> dateTime(v).map(t -> {
                    into.addDate(t.toLocalDate().toEpochDay());
                    return true;
                }));
            case TIME ->
                times((into, v) -> TimeText.readTime(v).map(nanos -> {
                    into.addTime(nanos);
                    return true;
                }));
            case TIMESTAMP ->
                times((into, v) -> dateTime(v).map(t -> {
                    into.addTimestamp(t);
                    return true;
                }));
            case INSTANT ->
                times((into, v) -> dateTime(v.replace("+00", "")).map(t -> {
                    into.addInstant(t.toEpochSecond(ZoneOffset.UTC), t.getNano());
                    return true;
                }));
            case UUID -> CellReaders.uuids();
            case JSON -> CellReaders.others("json");
            case BITS -> CellReaders.others("bits");
            case OTHER -> CellReaders.others(column.declaredType());
            case ANY -> throw new IllegalStateException("DuckDB has no column without a type");
        };
    }

    private interface TimeReader {
        /** True when it was added; empty when the text is no time of ours, such as infinity. */
        Optional<Boolean> add(Column into, String text);
    }

    private static CellReader times(TimeReader reader) {
        return CellReaders.string((into, text) -> {
            if (reader.add(into, text).isEmpty()) {
                into.add(new Value.Other("time", text));
            }
        });
    }

    private static Optional<LocalDateTime> dateTime(String text) {
        Matcher before = BEFORE_CHRIST.matcher(text);
        return before.matches()
                ? TimeText.readTimestamp(String.format(Locale.ROOT, "%05d", 1 - Integer.parseInt(before.group(1)))
                        + before.group(2)
                        + before.group(3))
                : TimeText.readTimestamp(text);
    }

    @Override
    public String limited(String sql, long rows, long skipped) {
        return sql + " LIMIT " + rows + (skipped == 0 ? "" : " OFFSET " + skipped);
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
