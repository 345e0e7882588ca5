package sharptally.engines.postgresql;

import java.math.BigDecimal;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.OffsetDateTime;
import java.util.Optional;
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

/** Reads by binary COPY, or where that is not wanted by a result set behind a cursor. */
final class PgReading implements Reading {
    private static final int ROWS_PER_FETCH = 5_000;

    static Kind kind(ColumnShape column) {
        return column.type()
                .orElseThrow(() -> new IllegalStateException("no reader for " + column.declaredType()))
                .kind();
    }

    @Override
    public String selectTerm(ColumnShape column) {
        String name = PgDialect.quoted(column.name());
        return switch (kind(column)) {
            // An oid is unsigned, and so needs more than its four bytes here.
            case INTEGER -> column.declaredType().equals("oid") ? name + "::int8" : name;
            case JSON, BITS, OTHER -> asText(column);
            default -> name;
        };
    }

    /** A column as text that tells its values apart: the name of a function or operator alone may stand for several. */
    static String asText(ColumnShape column) {
        String name = PgDialect.quoted(column.name());
        return switch (column.declaredType()) {
            case "regproc" -> name + "::regprocedure::text";
            case "regoper" -> name + "::regoperator::text";
            default -> name + "::text";
        };
    }

    @Override
    public String orderTerm(ColumnShape column) {
        String name = PgDialect.quoted(column.name());
        String term = switch (kind(column)) {
            case TEXT -> isPlainText(column) ? name + " COLLATE \"C\"" : name + "::text COLLATE \"C\"";
            case JSON, BITS, OTHER -> asText(column) + " COLLATE \"C\"";
            default -> name;
        };
        // An index holds NULL last; asking for it first would leave the index unused.
        return column.nullable() ? term + " NULLS FIRST" : term;
    }

    private static boolean isPlainText(ColumnShape column) {
        return column.declaredType().equals("text") || column.declaredType().startsWith("character varying");
    }

    @Override
    public String compared(ColumnShape column, String operator, String literal) {
        return orderTerm(column).replace(" NULLS FIRST", "") + " " + operator + " " + literal;
    }

    @Override
    public Seek seek(ColumnShape column) {
        return switch (kind(column)) {
            case INTEGER, DECIMAL, DATE, TIME, TIMESTAMP, INSTANT, UUID, BYTES -> Seek.BY_INDEX;
            case TEXT ->
                isPlainText(column)
                                && column.collation()
                                        .filter(ColumnShape.BY_BYTES::equals)
                                        .isPresent()
                        ? Seek.BY_INDEX
                        : Seek.BY_SCAN;
            default -> Seek.BY_SCAN;
        };
    }

    @Override
    public boolean indexServesRows() {
        return true;
    }

    @Override
    public CellReader reader(ColumnShape column) {
        return switch (kind(column)) {
            case BOOLEAN -> CellReaders.booleans();
            case INTEGER -> CellReaders.integers();
            case FLOAT -> CellReaders.floats();
            case DOUBLE -> CellReaders.doubles();
            case DECIMAL -> CellReaders.string(PgReading::addNumeric);
            case TEXT -> CellReaders.texts();
            case BYTES -> CellReaders.bytes();
            case DATE -> CellReaders.object(LocalDate.class, PgReading::addDate);
            case TIME ->
                CellReaders.string(
                        (into, v) -> into.addTime(TimeText.readTime(v).orElseThrow()));
            case TIMESTAMP -> CellReaders.object(LocalDateTime.class, PgReading::addTimestamp);
            case INSTANT -> CellReaders.object(OffsetDateTime.class, PgReading::addInstant);
            case UUID -> CellReaders.uuids();
            case JSON -> CellReaders.others("json");
            case BITS -> CellReaders.others("bits");
            case OTHER -> CellReaders.others(column.declaredType());
            case ANY -> throw new IllegalStateException("PostgreSQL has no column without a type");
        };
    }

    /** NaN and the infinities are no decimals; they are kept as the floating values of that name. */
    static void addNumeric(Column into, String text) {
        switch (text) {
            case "NaN" -> into.addDouble(Double.NaN);
            case "Infinity" -> into.addDouble(Double.POSITIVE_INFINITY);
            case "-Infinity" -> into.addDouble(Double.NEGATIVE_INFINITY);
            default -> into.addDecimal(new BigDecimal(text));
        }
    }

    private static void addDate(Column into, LocalDate date) {
        if (date.equals(LocalDate.MAX) || date.equals(LocalDate.MIN)) {
            addInfinity(into, date.equals(LocalDate.MAX));
        } else {
            into.addDate(date.toEpochDay());
        }
    }

    private static void addTimestamp(Column into, LocalDateTime time) {
        if (time.equals(LocalDateTime.MAX) || time.equals(LocalDateTime.MIN)) {
            addInfinity(into, time.equals(LocalDateTime.MAX));
        } else {
            into.addTimestamp(time);
        }
    }

    private static void addInstant(Column into, OffsetDateTime time) {
        if (time.equals(OffsetDateTime.MAX) || time.equals(OffsetDateTime.MIN)) {
            addInfinity(into, time.equals(OffsetDateTime.MAX));
        } else {
            into.addInstant(time.toEpochSecond(), time.getNano());
        }
    }

    static void addInfinity(Column into, boolean positive) {
        into.add(new Value.Other("time", positive ? "infinity" : "-infinity"));
    }

    @Override
    public String limited(String sql, long rows, long skipped) {
        return sql + " LIMIT " + rows + (skipped == 0 ? "" : " OFFSET " + skipped);
    }

    @Override
    public PreparedStatement openForStreaming(Connection connection, String sql) throws SQLException {
        PreparedStatement statement =
                connection.prepareStatement(sql, ResultSet.TYPE_FORWARD_ONLY, ResultSet.CONCUR_READ_ONLY);
        // Without a fetch size, or with auto-commit on, the driver holds the whole result.
        statement.setFetchSize(ROWS_PER_FETCH);
        return statement;
    }

    @Override
    public Optional<String> byChance(double share) {
        return Optional.of("random() < " + BigDecimal.valueOf(share).toPlainString());
    }

    @Override
    public Optional<BulkReading> bulk() {
        return Optional.of(new PgCopy());
    }
}
