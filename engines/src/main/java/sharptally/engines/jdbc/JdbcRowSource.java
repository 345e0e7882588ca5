package sharptally.engines.jdbc;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import sharptally.core.fault.ErrorKind;
import sharptally.core.rows.Column;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowCodec;
import sharptally.core.rows.RowSource;

/** The result of one query, in batches. Owns its connection. */
final class JdbcRowSource implements RowSource {
    private static final int ROWS_PER_BATCH = 2_048;
    private static final int MAX_BATCH_BYTES = 2 << 20;

    private final Connection connection;
    private final PreparedStatement statement;
    private final CellReader[] readers;
    private final String where;
    private Optional<ResultSet> result = Optional.empty();
    private volatile boolean closed;
    private boolean ended;

    private JdbcRowSource(Connection connection, PreparedStatement statement, List<CellReader> readers, String where) {
        this.connection = connection;
        this.statement = statement;
        this.readers = readers.toArray(new CellReader[0]);
        this.where = where;
    }

    static JdbcRowSource open(
            Connection connection, Reading reading, String sql, List<CellReader> readers, String where)
            throws SQLException {
        try {
            return new JdbcRowSource(connection, reading.openForStreaming(connection, sql), readers, where);
        } catch (SQLException e) {
            try {
                connection.close();
            } catch (SQLException suppressed) {
                e.addSuppressed(suppressed);
            }
            throw e;
        }
    }

    @Override
    public Optional<RowBatch> next() {
        if (ended || closed) {
            return Optional.empty();
        }
        try {
            if (result.isEmpty()) {
                result = Optional.of(statement.executeQuery());
            }
            return fill(result.get());
        } catch (SQLException e) {
            throw Failures.wrap(ErrorKind.READ, "reading broke off", where, e);
        }
    }

    private Optional<RowBatch> fill(ResultSet rows) throws SQLException {
        List<Column> batch = RowCodec.emptyColumns(readers.length, ROWS_PER_BATCH);
        Column[] columns = batch.toArray(new Column[0]);
        int count = 0;
        long bytes = 0;
        while (count < ROWS_PER_BATCH && bytes < MAX_BATCH_BYTES) {
            if (!rows.next()) {
                ended = true;
                break;
            }
            bytes = 0;
            for (int i = 0; i < columns.length; i++) {
                readers[i].read(rows, i + 1, columns[i]);
                bytes += columns[i].arenaSize();
            }
            count++;
        }
        return count == 0 ? Optional.empty() : Optional.of(new RowBatch(batch, count));
    }

    @Override
    public void close() {
        if (closed) {
            return;
        }
        closed = true;
        try {
            if (!ended) {
                statement.cancel();
            }
            connection.close();
        } catch (SQLException e) {
            throw Failures.wrap(ErrorKind.READ, "can't end reading", where, e);
        }
    }
}
