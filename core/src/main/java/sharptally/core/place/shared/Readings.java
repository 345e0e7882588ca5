package sharptally.core.place.shared;

import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.Map;
import sharptally.core.place.ReadRequest;
import sharptally.core.rows.RowSource;

/** Which rows are being read of a place, so that whoever wants the same ones joins in. */
final class Readings {
    /** Whole readings of small tables are kept up to so many bytes for those who come later. */
    private static final long MAX_KEPT = 32 << 20;

    private final SharedPlace place;
    private final Map<ReadRequest, SharedReading> open = new LinkedHashMap<>();
    private int members;
    private long together;
    private long alone;

    Readings(SharedPlace place, int members) {
        this.place = place;
        this.members = members;
    }

    synchronized SharedPlace.Counts counts() {
        open.values().forEach(this::count);
        open.clear();
        return new SharedPlace.Counts(together, alone);
    }

    synchronized void left() {
        members--;
        open.values().forEach(SharedReading::left);
        sweep();
    }

    RowSource read(Member member, ReadRequest request) {
        // Who waits for others in two readings at once could wait for one who waits for him.
        if (!member.mayJoin()) {
            synchronized (this) {
                alone++;
            }
            return new SharedReading(place, request, 1, 1).join(member).orElseThrow();
        }
        synchronized (this) {
            SharedReading reading = open.get(request);
            if (reading != null) {
                var seat = reading.join(member);
                if (seat.isPresent()) {
                    sweep();
                    return seat.get();
                }
                count(reading);
                open.remove(request);
            }
            SharedReading begun = new SharedReading(
                    place,
                    request,
                    members,
                    Math.min(members, member.companions().orElse(members)));
            open.put(request, begun);
            sweep();
            return begun.join(member).orElseThrow();
        }
    }

    private void count(SharedReading reading) {
        if (reading.joined() > 1) {
            together++;
        } else {
            alone++;
        }
    }

    /** Forgets readings that nobody can join, and those that take too much room. */
    private void sweep() {
        long held = open.values().stream().mapToLong(SharedReading::bytesKept).sum();
        Iterator<SharedReading> all = open.values().iterator();
        while (all.hasNext()) {
            SharedReading reading = all.next();
            if (!reading.isOpen() || held > MAX_KEPT && reading.isKept()) {
                held -= reading.bytesKept();
                count(reading);
                all.remove();
            }
        }
    }
}
