package sharptally.engines.jdbc;

import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import sharptally.core.fault.ErrorKind;
import sharptally.core.rows.Column;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowCodec;
import sharptally.core.rows.RowSource;

/** The rows of one query, in batches that are bounded in rows and bytes. */
final class JdbcRowSource implements RowSource {
    private static final int MAX_ROWS_PER_BATCH = 2_048;
    private static final int MIN_ROWS_PER_BATCH = 16;
    private static final int CELLS_PER_BATCH = 1 << 17;
    private static final int MAX_BATCH_BYTES = 2 << 20;

    /** Whether a connection may be used again. */
    enum Release {
        REUSABLE,
        SPENT
    }

    private final BulkReading.Stream stream;
    private final int columnCount;
    private final int rowsPerBatch;
    private final String where;
    private final Consumer<Release> release;
    private volatile boolean closed;
    private volatile boolean ended;

    /**
     * @param release told once, when reading is over, what became of the connection
     */
    JdbcRowSource(BulkReading.Stream stream, int columnCount, String where, Consumer<Release> release) {
        this.stream = stream;
        this.columnCount = columnCount;
        this.rowsPerBatch =
                Math.max(MIN_ROWS_PER_BATCH, Math.min(MAX_ROWS_PER_BATCH, CELLS_PER_BATCH / Math.max(1, columnCount)));
        this.where = where;
        this.release = release;
    }

    @Override
    public Optional<RowBatch> next() {
        if (ended || closed) {
            return Optional.empty();
        }
        try {
            return fill();
        } catch (SQLException e) {
            throw Failures.wrap(ErrorKind.READ, "reading broke off", where, e);
        }
    }

    private Optional<RowBatch> fill() throws SQLException {
        List<Column> batch = RowCodec.emptyColumns(columnCount, rowsPerBatch);
        Column[] columns = batch.toArray(new Column[0]);
        int count = 0;
        long bytes = 0;
        while (count < rowsPerBatch && bytes < MAX_BATCH_BYTES) {
            if (!stream.next(columns)) {
                ended = true;
                break;
            }
            bytes = 0;
            for (Column column : columns) {
                bytes += column.arenaSize();
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
                stream.cancel();
            }
        } catch (SQLException e) {
            throw Failures.wrap(ErrorKind.READ, "can't end reading", where, e);
        } finally {
            release.accept(ended ? Release.REUSABLE : Release.SPENT);
        }
    }
}
