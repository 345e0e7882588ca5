package sharptally.engines.mariadb;

import java.math.BigDecimal;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
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
    public String compared(ColumnShape column, String operator, String literal) {
        return orderTerm(column) + " " + operator + " "
                + (kind(column) == Kind.TEXT ? "CAST(" + literal + " AS BINARY)" : literal);
    }

    @Override
    public Seek seek(ColumnShape column) {
        return switch (kind(column)) {
            case INTEGER, DECIMAL, DATE, TIME, TIMESTAMP, INSTANT, BYTES -> Seek.BY_INDEX;
            default -> Seek.BY_SCAN;
        };
    }

    @Override
    public CellReader reader(ColumnShape column) {
        boolean unsigned = column.declaredType().startsWith("bigint")
                && column.declaredType().contains("unsigned");
        return switch (kind(column)) {
            case INTEGER -> unsigned ? CellReaders.string(MariaReading::addUnsigned) : CellReaders.integers();
            case DECIMAL -> CellReaders.string(Column::addDecimal);
            case FLOAT -> CellReaders.of(ResultSet::getDouble, (into, v) -> into.addFloat((float) (double) v));
            case DOUBLE -> CellReaders.doubles();
            case TEXT -> CellReaders.texts();
            case BYTES -> CellReaders.bytes();
            case DATE ->
                CellReaders.string((into, v) -> TimeText.readTimestamp(v)
                        .ifPresentOrElse(t -> into.addDate(t.toLocalDate().toEpochDay()), () -> into.addText(v)));
            case TIME ->
                CellReaders.string(
                        (into, v) -> TimeText.readTime(v).ifPresentOrElse(into::addTime, () -> into.addText(v)));
            case TIMESTAMP ->
                CellReaders.string((into, v) ->
                        TimeText.readTimestamp(v).ifPresentOrElse(into::addTimestamp, () -> into.addText(v)));
            case INSTANT ->
                CellReaders.string((into, v) -> TimeText.readInstant(v)
                        .ifPresentOrElse(t -> into.addInstant(t.getEpochSecond(), t.getNano()), () -> into.addText(v)));
            case UUID -> CellReaders.uuids();
            case JSON -> CellReaders.others("json");
            case BITS -> CellReaders.others("bits");
            case OTHER -> CellReaders.others(column.declaredType());
            case BOOLEAN, ANY -> throw new IllegalStateException("MariaDB has no such column: " + column);
        };
    }

    private static void addUnsigned(Column into, String digits) {
        if (digits.length() < 19) {
            into.addInt(Long.parseLong(digits));
        } else {
            into.addDecimal(digits);
        }
    }

    @Override
    public String limited(String sql, long rows, long skipped) {
        return sql + " LIMIT " + rows + (skipped == 0 ? "" : " OFFSET " + skipped);
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
    public boolean numbersRows(Connection connection) throws SQLException {
        return MariaServer.of(connection).numbersRows();
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
