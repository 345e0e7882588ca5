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
import java.util.Locale;
import java.util.Optional;
import java.util.function.Function;
import sharptally.core.place.part.Seek;
import sharptally.core.place.profile.Profile;
import sharptally.core.rows.Column;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.Kind;
import sharptally.core.types.TimeText;
import sharptally.core.types.Value;
import sharptally.engines.jdbc.BulkReading;
import sharptally.engines.jdbc.CellReader;
import sharptally.engines.jdbc.CellReaders;
import sharptally.engines.jdbc.Reading;

/**
 * Reads by the standard accessors, or as a profile says. The order is the database's own; where it is not ours, rows are sorted
 * here.
 */
final class AnyReading implements Reading {
    private static final int ROWS_PER_FETCH = 1_000;

    private final Profile profile;

    AnyReading(Profile profile) {
        this.profile = profile;
    }

    private static Kind kind(ColumnShape column) {
        return column.type().map(t -> t.kind()).orElse(Kind.OTHER);
    }

    private String filled(Optional<String> form, ColumnShape column) {
        String name = profile.quoted(column.name());
        return form.map(f -> Profile.filled(f, "column", name)).orElse(name);
    }

    @Override
    public String selectTerm(ColumnShape column) {
        return filled(profile.of(kind(column)).read(), column);
    }

    /** What is ordered and compared. */
    String term(ColumnShape column) {
        return filled(profile.of(kind(column)).order(), column);
    }

    @Override
    public String orderTerm(ColumnShape column) {
        return term(column)
                + profile.statements().nullsFirst().map(w -> " " + w).orElse("");
    }

    @Override
    public String compared(ColumnShape column, String operator, String literal) {
        return term(column) + " " + operator + " " + literal;
    }

    @Override
    public Seek seek(ColumnShape column) {
        Optional<String> found = profile.of(kind(column)).found();
        if (found.isPresent()) {
            return switch (found.get()) {
                case "index" -> Seek.BY_INDEX;
                case "scan" -> Seek.BY_SCAN;
                default -> Seek.NEVER;
            };
        }
        return switch (kind(column)) {
            case INTEGER, DECIMAL, DATE, TIMESTAMP -> Seek.BY_INDEX;
            default -> Seek.NEVER;
        };
    }

    @Override
    public CellReader reader(ColumnShape column) {
        Kind kind = column.type()
                .orElseThrow(() -> new IllegalStateException("no reader for " + column.declaredType()))
                .kind();
        boolean asText = profile.of(kind).read().isPresent();
        return switch (kind) {
            case BOOLEAN -> CellReaders.booleans();
            case INTEGER -> CellReaders.integers();
            case FLOAT -> CellReaders.floats();
            case DOUBLE -> CellReaders.doubles();
            case DECIMAL -> CellReaders.of(ResultSet::getBigDecimal, (Column into, BigDecimal v) -> into.addDecimal(v));
            case TEXT -> CellReaders.texts();
            case BYTES -> CellReaders.bytes();
            case DATE ->
                asText
                        ? texts(v -> TimeText.readTimestamp(v)
                                .filter(t -> t.toLocalTime().equals(LocalTime.MIDNIGHT))
                                .<Adding>map(t ->
                                        into -> into.addDate(t.toLocalDate().toEpochDay())))
                        : CellReaders.object(LocalDate.class, (into, v) -> into.addDate(v.toEpochDay()));
            case TIME ->
                asText
                        ? texts(v -> TimeText.readTime(v).<Adding>map(t -> into -> into.addTime(t)))
                        : CellReaders.object(LocalTime.class, (into, v) -> into.addTime(v.toNanoOfDay()));
            case TIMESTAMP ->
                asText
                        ? texts(v -> TimeText.readTimestamp(v).<Adding>map(t -> into -> into.addTimestamp(t)))
                        : CellReaders.of(
                                (row, i) -> row.getTimestamp(i, UtcTimestamps.calendar()),
                                (Column into, Timestamp v) -> into.addTimestamp(UtcTimestamps.read(v)));
            case INSTANT ->
                asText
                        ? texts(v -> TimeText.readInstant(v)
                                .<Adding>map(t -> into -> into.addInstant(t.getEpochSecond(), t.getNano())))
                        : CellReaders.object(
                                OffsetDateTime.class, (into, v) -> into.addInstant(v.toEpochSecond(), v.getNano()));
            case UUID -> CellReaders.uuids();
            case JSON, BITS, OTHER, ANY -> CellReaders.others(kind.name().toLowerCase(Locale.ROOT));
        };
    }

    /** Puts a value that was read from a text into a column. */
    private interface Adding {
        void to(Column into);
    }

    /** Times by their text; one that is no time of ours is kept as it is. */
    private static CellReader texts(Function<String, Optional<Adding>> read) {
        return CellReaders.string((into, text) -> read.apply(text)
                .orElse(c -> c.add(new Value.Other("time", text)))
                .to(into));
    }

    @Override
    public String limited(String sql, long rows, long skipped) {
        return profile.statements()
                .limited()
                .map(form -> Profile.filled(
                        form,
                        "query",
                        sql,
                        "rest",
                        sql.replaceFirst("^SELECT ", ""),
                        "rows",
                        Long.toString(rows),
                        "skipped",
                        Long.toString(skipped)))
                .orElseGet(() -> sql + (skipped == 0 ? "" : " OFFSET " + skipped + " ROWS") + " FETCH FIRST " + rows
                        + " ROWS ONLY");
    }

    @Override
    public boolean numbersRows(Connection connection) {
        return profile.statements().numbersRows().orElse(true);
    }

    @Override
    public PreparedStatement openForStreaming(Connection connection, String sql) throws SQLException {
        // What is asked for here is what a plain statement is, as far as the standard goes; not every driver takes the
        // words.
        PreparedStatement statement = connection.prepareStatement(sql);
        Lacks.asked(connection, "fetch sizes", false, () -> {
            statement.setFetchSize(ROWS_PER_FETCH);
            return true;
        });
        return statement;
    }

    @Override
    public Optional<BulkReading> bulk() {
        return Optional.empty();
    }
}
