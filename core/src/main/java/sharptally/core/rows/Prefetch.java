package sharptally.core.rows;

import java.util.Optional;
import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import java.util.function.BooleanSupplier;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;

/**
 * Reads another source on a thread of its own, a few batches ahead, so that both sides are read while they are being
 * compared. {@link #next} belongs to one thread.
 */
public final class Prefetch implements RowSource {
    private static final int BATCHES_AHEAD = 4;
    private static final long WAIT_MILLIS = 100;

    /** So many bytes are read, not more, before the batches that hold them are done with. */
    private static final long BYTES_AHEAD = 16 << 20;

    /** A batch, the end, or a failure. */
    private record Item(Optional<RowBatch> batch, Optional<RuntimeException> failure) {}

    private final RowSource source;
    private final BlockingQueue<Item> queue = new ArrayBlockingQueue<>(BATCHES_AHEAD);
    private final BooleanSupplier stopAsked;
    private final String name;
    private final CountDownLatch done = new CountDownLatch(1);
    private volatile boolean closed;
    private final Object room = new Object();
    private Optional<Thread> reader = Optional.empty();
    private long bytesHeld;
    private long bytesInUse;
    private boolean ended;

    /**
     * @param stopAsked looked at while waiting for rows; once true, {@link #next} fails as {@code INCOMPLETE}
     */
    public Prefetch(RowSource source, String name, BooleanSupplier stopAsked) {
        this.source = source;
        this.stopAsked = stopAsked;
        this.name = "read-" + name;
        Daemons.run(this.name, this::work);
    }

    private void work() {
        synchronized (room) {
            reader = Optional.of(Thread.currentThread());
        }
        try {
            fill();
        } finally {
            synchronized (room) {
                // From now on, the thread does something else.
                reader = Optional.empty();
                Thread.interrupted();
            }
            done.countDown();
        }
    }

    private void fill() {
        try {
            while (!closed) {
                waitForRoom();
                Optional<RowBatch> batch = source.next();
                hold(batch.map(RowBatch::bytes).orElse(0L));
                put(new Item(batch, Optional.empty()));
                if (batch.isEmpty()) {
                    return;
                }
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        } catch (RuntimeException e) {
            offerFailure(e);
        } catch (OutOfMemoryError e) {
            offerFailure(new ToolException(
                    ErrorKind.INCOMPLETE, "not enough memory to read on", name, "give more with -Xmx", e));
        }
    }

    /** Large rows are read one by one: the next only when nobody holds the last any more. */
    private void waitForRoom() throws InterruptedException {
        synchronized (room) {
            while (!closed && bytesHeld > BYTES_AHEAD) {
                room.wait(WAIT_MILLIS);
            }
        }
    }

    private void hold(long bytes) {
        synchronized (room) {
            bytesHeld += bytes;
            room.notifyAll();
        }
    }

    private void put(Item item) throws InterruptedException {
        while (!closed && !queue.offer(item, WAIT_MILLIS, TimeUnit.MILLISECONDS)) {
            // the other side is slower; look again whether anyone still wants this
        }
    }

    private void offerFailure(RuntimeException failure) {
        try {
            put(new Item(Optional.empty(), Optional.of(failure)));
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    @Override
    public Optional<RowBatch> next() {
        if (ended) {
            return Optional.empty();
        }
        hold(-bytesInUse);
        bytesInUse = 0;
        Item item = null;
        try {
            while (item == null) {
                item = queue.poll(WAIT_MILLIS, TimeUnit.MILLISECONDS);
                if (stopAsked.getAsBoolean()) {
                    throw new ToolException(ErrorKind.INCOMPLETE, "stopped on request", name, "nothing was proved");
                }
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new ToolException(ErrorKind.INCOMPLETE, "interrupted while reading", name, "", e);
        }
        if (item.failure().isPresent()) {
            ended = true;
            throw item.failure().get();
        }
        ended = item.batch().isEmpty();
        bytesInUse = item.batch().map(RowBatch::bytes).orElse(0L);
        return item.batch();
    }

    @Override
    public void close() {
        closed = true;
        source.close();
        synchronized (room) {
            reader.ifPresent(Thread::interrupt);
        }
        try {
            done.await(5, TimeUnit.SECONDS);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }
}
