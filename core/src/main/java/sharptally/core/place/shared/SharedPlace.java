package sharptally.core.place.shared;

import java.time.Duration;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import java.util.function.Function;
import java.util.stream.Stream;
import sharptally.core.fault.Closing;
import sharptally.core.place.Place;
import sharptally.core.place.ReadRequest;
import sharptally.core.rows.RowSource;

/**
 * A place that several members read at the same time, as one that is compared with several others: what more than one of
 * them asks for is asked of the place once. Figures are kept until all have had them; rows that several want are handed to
 * all as they come, so that the fastest waits for the slowest. What only one asks for, as rows that differ on its other
 * side, is read for it alone.
 *
 * <p>Members are used by different threads; what they read comes over connections that are opened as they are needed, all
 * in the state of the first one where the engine can share it.
 */
public final class SharedPlace implements AutoCloseable {
    private final Place first;
    private final Duration patience;
    private final Answers answers;
    private final Readings readings;
    private final Deque<Place> idle = new ArrayDeque<>();
    private final List<Place> opened = new ArrayList<>();
    private boolean closed;

    /**
     * @param first is closed with this one
     * @param members how many will read it
     * @param patience how long whoever is the first to read rows waits for the others, with the first rows in hand
     */
    public SharedPlace(Place first, int members, Duration patience) {
        this.first = first;
        this.patience = patience;
        this.answers = new Answers(this, members);
        this.readings = new Readings(this, members);
    }

    /** The place as one member sees it; to be called once for each. */
    public Place member() {
        Place one = lent();
        boolean sharesState = one.sharesState();
        back(one);
        return new Member(this, new Object(), true, sharesState);
    }

    /** How often rows were read of the place: for several members at once, and for one alone. */
    public record Counts(long together, long alone) {}

    public Counts counts() {
        return readings.counts();
    }

    /** One of its members asks for nothing any more. */
    void left() {
        answers.left();
        readings.left();
    }

    Duration patience() {
        return patience;
    }

    Answers answers() {
        return answers;
    }

    RowSource read(Member member, ReadRequest request) {
        return readings.read(member, request);
    }

    /** Asks what is known of the place without reading it. */
    <T> T told(Function<Place, T> question) {
        synchronized (first) {
            return question.apply(first);
        }
    }

    /** A connection for one thread, to be given {@link #back}. */
    Place lent() {
        synchronized (idle) {
            if (!idle.isEmpty()) {
                return idle.pop();
            }
        }
        Place one = told(Place::another);
        synchronized (idle) {
            opened.add(one);
        }
        return one;
    }

    void back(Place one) {
        one.rest();
        synchronized (idle) {
            if (!closed) {
                idle.push(one);
                return;
            }
        }
        one.close();
    }

    /** A connection that is of no use any more. */
    void broken(Place one) {
        synchronized (idle) {
            opened.remove(one);
        }
        one.close();
    }

    /** What any connection has passed over of a table. */
    List<Place> connections() {
        synchronized (idle) {
            return List.copyOf(opened);
        }
    }

    @Override
    public void close() {
        List<Place> all;
        synchronized (idle) {
            // Those that are lent are closed when they are given back.
            closed = true;
            all = List.copyOf(idle);
            idle.clear();
        }
        Closing.all(Stream.concat(all.stream(), Stream.of(first)).toList(), Place::close);
    }
}
