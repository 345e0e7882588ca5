package sharptally.engines.sqlite;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.Optional;
import sharptally.core.place.part.Seek;
import sharptally.core.rows.Column;
import sharptally.core.shape.ColumnShape;
import sharptally.engines.jdbc.BulkReading;
import sharptally.engines.jdbc.CellReader;
import sharptally.engines.jdbc.Reading;

/** Reads every value by its storage class, whatever the column declares. */
final class SqliteReading implements Reading {
    private static final char REPLACED = '\uFFFD';

    @Override
    public String selectTerm(ColumnShape column) {
        return SqliteDialect.quoted(column.name());
    }

    @Override
    public String orderTerm(ColumnShape column) {
        // NULL comes first by default. Where the collation is binary anyway, saying so costs no index.
        return SqliteDialect.quoted(column.name()) + " COLLATE BINARY";
    }

    @Override
    public String compared(ColumnShape column, String operator, String literal) {
        return SqliteDialect.quoted(column.name()) + " " + operator + " " + literal + " COLLATE BINARY";
    }

    @Override
    public String meets(ColumnShape column, String operator, String literal) {
        return TimeForm.of(column.type().orElseThrow().kind())
                .map(form -> form.name() + "(" + SqliteDialect.quoted(column.name()) + ") " + operator + " " + literal
                        + " COLLATE BINARY")
                .orElseGet(() -> compared(column, operator, literal));
    }

    @Override
    public Seek seek(ColumnShape column) {
        boolean binary =
                column.collation().map(c -> c.equalsIgnoreCase("BINARY")).orElse(true);
        return binary ? Seek.BY_INDEX : Seek.BY_SCAN;
    }

    @Override
    public CellReader reader(ColumnShape column) {
        return SqliteReading::read;
    }

    private static void read(ResultSet row, int index, Column into) throws SQLException {
        Object value = row.getObject(index);
        if (value == null) {
            into.addNull();
        } else if (value instanceof Integer || value instanceof Long) {
            into.addInt(((Number) value).longValue());
        } else if (value instanceof Double number) {
            into.addDouble(number);
        } else if (value instanceof String text) {
            if (text.indexOf(REPLACED) < 0) {
                into.addText(text);
            } else {
                // Bytes that are no UTF-8 were replaced while decoding; the bytes themselves tell such texts apart.
                byte[] bytes = row.getBytes(index);
                into.addText(bytes, 0, bytes.length);
            }
        } else if (value instanceof byte[] bytes) {
            into.addBytes(bytes);
        } else {
            throw new IllegalStateException("unknown storage class " + value.getClass());
        }
    }

    @Override
    public String limited(String sql, long rows, long skipped) {
        return sql + " LIMIT " + rows + (skipped == 0 ? "" : " OFFSET " + skipped);
    }

    @Override
    public PreparedStatement openForStreaming(Connection connection, String sql) throws SQLException {
        // SQLite steps through a result as it is read; nothing is held.
        return connection.prepareStatement(sql);
    }

    /** Its random numbers have 64 bits. */
    @Override
    public Optional<String> byChance(double share) {
        return Optional.of("(random() & " + Integer.MAX_VALUE + ") < " + (long) (share * Integer.MAX_VALUE));
    }

    @Override
    public Optional<BulkReading> bulk() {
        return Optional.empty();
    }
}
