package sharptally.core.compare.stream;

import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Place;
import sharptally.core.place.ReadRequest;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowSource;
import sharptally.core.types.Value;

/**
 * Rows in key order that go on behind the last key delivered when their state of the database is overdue, and when the
 * connection breaks: at most so many times, waiting longer before each. Only for keys that the database holds unique and
 * not NULL; with others, rows of one key could be
 * lost or come twice. Read by one thread; another one may close it.
 */
final class ResumingSource implements RowSource {
    private static final int MAX_ATTEMPTS = 4;
    private static final Duration FIRST_WAIT = Duration.ofMillis(500);

    private final Place place;
    private final ReadRequest request;
    private final Consumer<String> remark;
    private final int[] keyPlaces;
    private volatile RowSource rows;
    private List<Value> last = List.of();
    private int attempts;
    private volatile boolean closed;

    /**
     * @param keyPlaces places of the key among the columns of the request, in the order of the key
     * @param remark told of each time that reading went on
     */
    ResumingSource(Place place, ReadRequest request, int[] keyPlaces, Consumer<String> remark) {
        this.place = place;
        this.request = request;
        this.keyPlaces = keyPlaces;
        this.remark = remark;
        this.rows = place.read(request);
    }

    @Override
    public Optional<RowBatch> next() {
        while (true) {
            try {
                if (place.isOverdue() && !last.isEmpty()) {
                    renew();
                }
                Optional<RowBatch> batch = rows.next();
                batch.ifPresent(b -> last = java.util.Arrays.stream(keyPlaces)
                        .mapToObj(k -> b.column(k).value(b.rows() - 1))
                        .toList());
                return batch;
            } catch (ToolException e) {
                if (e.kind() != ErrorKind.BROKEN || closed || ++attempts >= MAX_ATTEMPTS) {
                    throw e;
                }
                reopen(e);
            }
        }
    }

    /** Goes on in a later state of the database. */
    private void renew() {
        rows.close();
        rows = place.read(request.after(last));
        if (closed) {
            rows.close();
        }
    }

    private void reopen(ToolException broken) {
        while (true) {
            try {
                Thread.sleep(FIRST_WAIT.toMillis() << attempts);
                rows.close();
            } catch (ToolException e) {
                broken.addSuppressed(e);
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                throw broken;
            }
            try {
                rows = place.read(last.isEmpty() ? request : request.after(last));
                if (closed) {
                    // Whoever closed this one did not see the new rows.
                    rows.close();
                    throw broken;
                }
                remark.accept("the connection to " + place.address() + " broke while "
                        + request.table().name() + " was read, and reading went on behind the last key");
                return;
            } catch (ToolException e) {
                broken.addSuppressed(e);
                if (closed || ++attempts >= MAX_ATTEMPTS) {
                    throw broken;
                }
            }
        }
    }

    @Override
    public void close() {
        closed = true;
        rows.close();
    }
}
