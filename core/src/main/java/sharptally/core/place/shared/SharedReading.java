package sharptally.core.place.shared;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Place;
import sharptally.core.place.ReadRequest;
import sharptally.core.rows.Daemons;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowSource;

/**
 * Rows that are read once and handed to all who joined before the first of them were let go. A few batches are held; who is
 * ahead waits until the others have had them.
 */
final class SharedReading {
    private static final int MAX_BATCHES = 24;
    private static final long MAX_BYTES = 16 << 20;

    private static final long WAIT_MILLIS = 100;

    private final SharedPlace place;
    private final ReadRequest request;
    private final List<Member> readers = new ArrayList<>();
    private final List<RowBatch> window = new ArrayList<>();
    private final List<Seat> seats = new ArrayList<>();
    private int members;
    private final int expected;
    private long first;
    private long bytes;
    private boolean open = true;
    private boolean ended;
    private boolean pulling;
    private boolean over;
    private Optional<RuntimeException> failure = Optional.empty();
    private Optional<Place> reader = Optional.empty();
    private Optional<RowSource> rows = Optional.empty();

    /**
     * @param members how many may join
     * @param expected how many of them are worth waiting for
     */
    SharedReading(SharedPlace place, ReadRequest request, int members, int expected) {
        this.place = place;
        this.request = request;
        this.members = members;
        this.expected = expected;
    }

    /** Empty where the first rows are gone. */
    synchronized Optional<RowSource> join(Member member) {
        if (!open || failure.isPresent()) {
            return Optional.empty();
        }
        readers.add(member);
        Seat seat = new Seat(member);
        seats.add(seat);
        member.joined(true);
        if (readers.size() >= members) {
            shut();
        }
        return Optional.of(seat);
    }

    /** One of those who might have joined is no more. */
    synchronized void left() {
        members--;
        if (open && readers.size() >= members) {
            shut();
        }
    }

    private void shut() {
        open = false;
        readers.forEach(reader -> reader.hadCompany(readers.size()));
        trim();
    }

    synchronized boolean isOpen() {
        return open;
    }

    synchronized int joined() {
        return readers.size();
    }

    /** Whether all its rows are there for those who come later, and nobody reads them now. */
    synchronized boolean isKept() {
        return ended && seats.isEmpty();
    }

    synchronized long bytesKept() {
        return isKept() ? bytes : 0;
    }

    /** Lets go of what all have had, unless somebody may still come. */
    private void trim() {
        if (open) {
            return;
        }
        long slowest = seats.stream().mapToLong(seat -> seat.at).min().orElse(Long.MAX_VALUE);
        while (!window.isEmpty() && first < slowest) {
            bytes -= size(window.remove(0));
            first++;
        }
        notifyAll();
    }

    private static long size(RowBatch batch) {
        return batch.bytes() + 16L * batch.rows();
    }

    private synchronized Optional<RowBatch> next(Seat seat) {
        long asked = System.nanoTime();
        while (!seat.closed) {
            if (seat.at < first + window.size()) {
                RowBatch batch = window.get((int) (seat.at - first)).another();
                seat.at++;
                trim();
                return Optional.of(batch);
            }
            if (failure.isPresent()) {
                throw failure.get();
            }
            if (ended) {
                return Optional.empty();
            }
            if (open
                    && isFull()
                    && (readers.size() >= expected
                            || System.nanoTime() - asked > place.patience().toNanos())) {
                shut();
            }
            if (!pulling && !isFull()) {
                pulling = true;
                // Whoever reads along may be told to end while others read on.
                Daemons.run("read-" + request.table().name(), this::pull);
            }
            pause();
        }
        return Optional.empty();
    }

    private boolean isFull() {
        return window.size() >= MAX_BATCHES || bytes > MAX_BYTES;
    }

    private void pause() {
        try {
            wait(WAIT_MILLIS);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new ToolException(
                    ErrorKind.INCOMPLETE,
                    "interrupted while reading",
                    request.table().name().toString(),
                    "",
                    e);
        }
    }

    /** Reads ahead for all. */
    private void pull() {
        while (pullOne()) {
            // as long as somebody reads and there is room
        }
        boolean done;
        synchronized (this) {
            pulling = false;
            done = ended || failure.isPresent() || seats.isEmpty();
            notifyAll();
        }
        if (done) {
            end();
        }
    }

    private boolean pullOne() {
        Optional<RowBatch> batch = Optional.empty();
        Optional<RuntimeException> why = Optional.empty();
        try {
            if (rows.isEmpty()) {
                Place lent = place.lent();
                synchronized (this) {
                    reader = Optional.of(lent);
                }
                RowSource read = lent.read(request);
                synchronized (this) {
                    rows = Optional.of(read);
                }
            }
            batch = rows.orElseThrow().next();
        } catch (RuntimeException e) {
            why = Optional.of(e);
        }
        synchronized (this) {
            failure = why;
            ended = batch.isEmpty() && why.isEmpty();
            batch.ifPresent(b -> {
                window.add(b);
                bytes += size(b);
            });
            notifyAll();
            return batch.isPresent() && !seats.isEmpty() && !isFull();
        }
    }

    /** Gives the connection back; once. */
    private void end() {
        Optional<Place> lent;
        synchronized (this) {
            if (over || pulling) {
                return;
            }
            over = true;
            lent = reader;
        }
        boolean whole = failure.isEmpty();
        try {
            rows.ifPresent(RowSource::close);
        } finally {
            lent.ifPresent(whole ? place::back : place::broken);
        }
    }

    /** One who reads along. */
    private final class Seat implements RowSource {
        private final Member member;
        private long at;
        private boolean closed;

        Seat(Member member) {
            this.member = member;
        }

        @Override
        public Optional<RowBatch> next() {
            return SharedReading.this.next(this);
        }

        @Override
        public void close() {
            boolean last;
            synchronized (SharedReading.this) {
                if (closed) {
                    return;
                }
                closed = true;
                seats.remove(this);
                last = seats.isEmpty() && !ended;
                if (last && open) {
                    shut();
                }
                trim();
                SharedReading.this.notifyAll();
            }
            member.joined(false);
            if (last) {
                // Whoever reads at this moment is told to end, and gives the connection back.
                if (isPulling()) {
                    rows.ifPresent(RowSource::close);
                } else {
                    end();
                }
            }
        }
    }

    private synchronized boolean isPulling() {
        return pulling;
    }
}
