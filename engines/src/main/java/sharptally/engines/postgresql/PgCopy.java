package sharptally.engines.postgresql;

import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import org.postgresql.PGConnection;
import org.postgresql.copy.CopyOut;
import sharptally.core.rows.Column;
import sharptally.core.rows.RowImages;
import sharptally.core.shape.ColumnShape;
import sharptally.engines.jdbc.BulkReading;

/**
 * Reads by {@code COPY (…) TO STDOUT (FORMAT binary)}: no object per value, and half the work of a result set.
 *
 * <p>The stream begins with a header; each message holds one row: a 16-bit count of fields, then per field a 32-bit
 * length (-1 for NULL) and the value as the type's send function writes it. A count of -1 ends the stream. Source:
 * PostgreSQL documentation, COPY, "Binary Format".
 */
final class PgCopy implements BulkReading {
    /** A place's property by which reading through COPY is switched off: {@code copy: off}. */
    static final String PROPERTY = "copy";

    /** Name of the application by which a connection without COPY is known. */
    static final String NAME_WITHOUT = "sharp-tally without copy";

    private static final int HEADER_BYTES = 19;
    private static final int DAYS_TO_2000 = 10_957;
    private static final long SECONDS_TO_2000 = DAYS_TO_2000 * 86_400L;
    private static final long MICROS = 1_000_000L;

    @Override
    public boolean isAllowed(Connection connection) {
        try {
            return connection.isWrapperFor(PGConnection.class)
                    && !NAME_WITHOUT.equals(connection.getClientInfo("ApplicationName"));
        } catch (SQLException e) {
            return false;
        }
    }

    @Override
    public String form() {
        return "postgresql binary copy";
    }

    @Override
    public Stream open(Connection connection, String sql, List<ColumnShape> columns) throws SQLException {
        return new Rows(
                connection.unwrap(PGConnection.class),
                "COPY (" + sql + ") TO STDOUT (FORMAT binary)",
                columns.stream().map(PgCopy::field).toArray(Field[]::new));
    }

    /** Appends a value that stands at a place of the message, with so many bytes. */
    private interface Field {
        void read(ByteBuffer message, int length, Column into);
    }

    private static final class Rows implements Stream {
        private final PGConnection connection;
        private final String sql;
        private final Field[] fields;
        private Optional<CopyOut> started = Optional.empty();
        private boolean begun;
        private boolean ended;

        Rows(PGConnection connection, String sql, Field[] fields) {
            this.connection = connection;
            this.sql = sql;
            this.fields = fields;
        }

        @Override
        public boolean next(Column[] columns) throws SQLException {
            ByteBuffer message = message();
            if (message == null) {
                return false;
            }
            decode(message, columns, fields.length);
            return true;
        }

        @Override
        public boolean next(Column[] columns, RowImages images) throws SQLException {
            ByteBuffer message = message();
            if (message == null) {
                return false;
            }
            images.add(message.array(), message.position(), message.remaining());
            int wanted = columns.length;
            while (wanted > 0 && columns[wanted - 1] == null) {
                wanted--;
            }
            decode(message, columns, wanted);
            return true;
        }

        @Override
        public Optional<RowImages.Decoder> decoder() {
            return Optional.of(
                    (bytes, from, length, into) -> decode(ByteBuffer.wrap(bytes, from, length), into, fields.length));
        }

        private void decode(ByteBuffer fieldsOfRow, Column[] columns, int wanted) {
            for (int i = 0; i < wanted; i++) {
                int length = fieldsOfRow.getInt();
                int next = fieldsOfRow.position() + Math.max(0, length);
                if (columns[i] != null && length < 0) {
                    columns[i].addNull();
                } else if (columns[i] != null) {
                    fields[i].read(fieldsOfRow, length, columns[i]);
                }
                fieldsOfRow.position(next);
            }
        }

        /** The fields of the next row; {@code null} at the end. */
        private ByteBuffer message() throws SQLException {
            if (ended) {
                return null;
            }
            if (started.isEmpty()) {
                // Begun by the thread that reads: the server's first answer waits for its first rows, so for its sort.
                started = Optional.of(connection.getCopyAPI().copyOut(sql));
            }
            CopyOut copy = started.get();
            byte[] bytes = copy.readFromCopy();
            if (bytes == null) {
                ended = true;
                return null;
            }
            ByteBuffer message = ByteBuffer.wrap(bytes);
            if (!begun) {
                begun = true;
                message.position(HEADER_BYTES);
                if (!message.hasRemaining()) {
                    return message();
                }
            }
            if (message.getShort() < 0) {
                // The rest is read so that the connection can be used again.
                while (copy.readFromCopy() != null) {
                    // nothing comes after the end mark
                }
                ended = true;
                return null;
            }
            return message;
        }

        @Override
        public void cancel() throws SQLException {
            // Not cancelCopy, which waits for the reader, and so for as long as the server sorts.
            connection.cancelQuery();
        }
    }

    private static Field field(ColumnShape column) {
        return switch (PgReading.kind(column)) {
            case BOOLEAN -> (in, length, into) -> into.addBoolean(in.get() != 0);
            case INTEGER ->
                (in, length, into) ->
                        into.addInt(length == 8 ? in.getLong() : length == 4 ? in.getInt() : in.getShort());
            case FLOAT -> (in, length, into) -> into.addFloat(in.getFloat());
            case DOUBLE -> (in, length, into) -> into.addDouble(in.getDouble());
            case DECIMAL -> (in, length, into) -> PgNumeric.read(in, into);
            case TEXT -> (in, length, into) -> into.addText(in.array(), in.position(), length);
            case BYTES -> (in, length, into) -> into.addBytes(in.array(), in.position(), length);
            case DATE -> (in, length, into) -> date(in.getInt(), into);
            case TIME -> (in, length, into) -> into.addTime(in.getLong() * 1_000);
            case TIMESTAMP -> (in, length, into) -> timestamp(in.getLong(), into, Column::addTimestamp);
            case INSTANT -> (in, length, into) -> timestamp(in.getLong(), into, Column::addInstant);
            case UUID -> (in, length, into) -> into.addUuid(in.getLong(), in.getLong());
            case JSON -> (in, length, into) -> other(in, length, "json", into);
            case BITS -> (in, length, into) -> other(in, length, "bits", into);
            case OTHER -> (in, length, into) -> other(in, length, column.declaredType(), into);
            case ANY -> throw new IllegalStateException("PostgreSQL has no column without a type");
        };
    }

    private static void date(int days, Column into) {
        if (days == Integer.MAX_VALUE || days == Integer.MIN_VALUE) {
            PgReading.addInfinity(into, days > 0);
        } else {
            into.addDate((long) days + DAYS_TO_2000);
        }
    }

    private interface TimeAdder {
        void add(Column into, long epochSecond, int nanos);
    }

    private static void timestamp(long micros, Column into, TimeAdder adder) {
        if (micros == Long.MAX_VALUE || micros == Long.MIN_VALUE) {
            PgReading.addInfinity(into, micros > 0);
        } else {
            long seconds = Math.floorDiv(micros, MICROS);
            adder.add(into, seconds + SECONDS_TO_2000, (int) (micros - seconds * MICROS) * 1_000);
        }
    }

    private static void other(ByteBuffer in, int length, String type, Column into) {
        into.add(new sharptally.core.types.Value.Other(
                type, new String(in.array(), in.position(), length, StandardCharsets.UTF_8)));
    }
}
