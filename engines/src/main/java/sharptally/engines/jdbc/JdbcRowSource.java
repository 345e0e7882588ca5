package sharptally.engines.jdbc;

import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import sharptally.core.fault.ErrorKind;
import sharptally.core.rows.Column;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowCodec;
import sharptally.core.rows.RowImages;
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
    private final Optional<boolean[]> early;
    private final int rowsPerBatch;
    private final String where;
    private final Consumer<Release> release;
    private int lastBytes;
    private volatile boolean closed;
    private volatile boolean ended;

    /**
     * @param early where rows are wanted with their images: which columns are decoded at once
     * @param release told once, when reading is over, what became of the connection
     */
    JdbcRowSource(
            BulkReading.Stream stream,
            int columnCount,
            Optional<boolean[]> early,
            String where,
            Consumer<Release> release) {
        this.stream = stream;
        this.early = early.filter(e -> stream.decoder().isPresent());
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
            return early.isPresent() ? fillWithImages(early.get()) : fill();
        } catch (SQLException e) {
            throw Failures.wrap(ErrorKind.READ, "reading was interrupted", where, e);
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

    private Optional<RowBatch> fillWithImages(boolean[] decoded) throws SQLException {
        Column[] columns = new Column[columnCount];
        for (int i = 0; i < columnCount; i++) {
            columns[i] = decoded[i] ? new Column(rowsPerBatch) : null;
        }
        RowImages images = new RowImages(
                stream.decoder().orElseThrow(),
                rowsPerBatch,
                Math.min(lastBytes + lastBytes / 8, MAX_BATCH_BYTES + MAX_BATCH_BYTES / 8));
        while (images.rows() < rowsPerBatch && images.size() < MAX_BATCH_BYTES) {
            if (!stream.next(columns, images)) {
                ended = true;
                break;
            }
        }
        lastBytes = images.size();
        return images.rows() == 0 ? Optional.empty() : Optional.of(RowBatch.of(columns, images));
    }

    @Override
    public void close() {
        if (closed) {
            return;
        }
        closed = true;
        // Another thread may come to the end meanwhile; what ends a query may still hit the next one then.
        boolean cancelled = !ended;
        try {
            if (cancelled) {
                stream.cancel();
            }
        } catch (SQLException e) {
            throw Failures.wrap(ErrorKind.READ, "can't end reading", where, e);
        } finally {
            release.accept(cancelled ? Release.SPENT : Release.REUSABLE);
        }
    }
}
