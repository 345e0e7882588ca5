package sharptally.core.compare.stream;

import java.util.Optional;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.locks.LockSupport;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowSource;

/**
 * Mercy for the servers: lets no more than so many rows per second pass on each side. Safe for use by several threads,
 * which share the rate.
 */
public final class RateLimit {
    /** As fast as rows come. */
    public static final RateLimit NONE = new RateLimit(0);

    private final long rowsPerSecond;
    private long nextAt;

    /**
     * @param rowsPerSecond of either side; 0 for any number
     */
    public RateLimit(long rowsPerSecond) {
        this.rowsPerSecond = rowsPerSecond;
        this.nextAt = System.nanoTime();
    }

    public boolean isNone() {
        return rowsPerSecond == 0;
    }

    /** How many rows of a side pass in a second; 0 for any number. */
    public long rowsPerSecond() {
        return rowsPerSecond;
    }

    /** Waits until so many rows of one side may be asked for. */
    public void await(long rows) {
        if (rowsPerSecond == 0) {
            return;
        }
        long until;
        synchronized (this) {
            long now = System.nanoTime();
            // Both sides draw on one account, each for its half.
            nextAt = Math.max(now, nextAt) + rows * TimeUnit.SECONDS.toNanos(1) / rowsPerSecond / 2;
            until = nextAt;
        }
        while (System.nanoTime() < until && !Thread.currentThread().isInterrupted()) {
            LockSupport.parkNanos(until - System.nanoTime());
        }
    }

    RowSource slowed(RowSource rows) {
        if (rowsPerSecond == 0) {
            return rows;
        }
        return new RowSource() {
            @Override
            public Optional<RowBatch> next() {
                Optional<RowBatch> batch = rows.next();
                batch.ifPresent(b -> await(b.rows()));
                return batch;
            }

            @Override
            public void close() {
                rows.close();
            }
        };
    }
}
