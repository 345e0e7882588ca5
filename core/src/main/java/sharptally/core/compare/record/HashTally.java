package sharptally.core.compare.record;

import java.io.BufferedInputStream;
import java.io.BufferedOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.List;
import java.util.Optional;
import java.util.function.LongConsumer;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Side;

/**
 * Holds rows of both sides against each other by their hashes, in whatever order they come and however often, and tells the keys
 * whose rows have to be looked at. Used by one thread.
 *
 * <p>Idea: what is added goes to one of some bins by the hash of its key, at first without a look at it; then each bin is gone
 * through with a table so small that it stays in the processor's cache: one entry per key, with how many rows each side has of it
 * and whether all of them have the same hash. Memory: a limit for the bins, beyond which they go to files that their owner alone
 * can read, and a limit of keys for the table; the rows of all keys beyond go to a file, and are gone through when the others
 * are done.
 */
public final class HashTally implements AutoCloseable {
    private static final int LONGS_PER_KEY = 4;
    private static final int KEY = 0;
    private static final int ROW = 1;
    private static final int OF_SOURCE = 2;
    private static final int OF_TARGET = 3;
    private static final int FIRST_SLOTS = 1 << 10;
    private static final int BUFFER = 1 << 13;
    private static final int BINS = 64;
    /** Of a key, by which it is known in which bin it is: others than those that find its entry, or its part of all rows. */
    private static final int BIN_SHIFT = 26;

    private static final int LONGS_PER_ROW = 3;
    private static final int FIRST_LONGS = LONGS_PER_ROW << 7;

    private final boolean wholeRow;
    private final int maxKeys;
    private final long maxLongs;
    private final Path temporary;
    private final long[][] bins = new long[BINS][0];
    private final int[] filled = new int[BINS];
    private final List<Optional<Rest>> files = new ArrayList<>(Collections.nCopies(BINS, Optional.empty()));
    private long held;
    private long[] table = new long[FIRST_SLOTS * LONGS_PER_KEY];
    private boolean[] mixed = new boolean[FIRST_SLOTS];
    private int keys;
    private long added;
    private Optional<Rest> rest = Optional.empty();

    /**
     * What is known of some keys.
     *
     * @param equal how many pairs of equal rows there are
     * @param sampled how many of them are of keys in the sample
     * @param sourceLeft how many rows the source has of the keys that are left
     */
    public record Told(long equal, long sampled, long sourceLeft, long targetLeft) {
        public static final Told NOTHING = new Told(0, 0, 0, 0);

        public Told plus(Told other) {
            return new Told(
                    equal + other.equal,
                    sampled + other.sampled,
                    sourceLeft + other.sourceLeft,
                    targetLeft + other.targetLeft);
        }
    }

    /** Rows that are gone through later. */
    private final class Rest {
        private final Path file;
        private final DataOutputStream out;

        Rest() {
            try {
                file = Files.createTempFile(temporary, "sharp-tally-keys-", ".hashes");
                OutputStream to = Files.newOutputStream(file);
                out = new DataOutputStream(new BufferedOutputStream(to, BUFFER));
            } catch (IOException e) {
                throw noRoom(e);
            }
        }

        /** Of the target, so many times less than none. */
        void add(long key, long row, long times) {
            try {
                out.writeLong(key);
                out.writeLong(row);
                out.writeLong(times);
            } catch (IOException e) {
                throw noRoom(e);
            }
        }

        void remove() {
            try {
                out.close();
                Files.deleteIfExists(file);
            } catch (IOException e) {
                file.toFile().deleteOnExit();
            }
        }
    }

    /**
     * @param wholeRow whether rows have no key, so that each is matched with any equal one
     * @param maxKeys how many keys the table holds at most
     * @param maxBytes of what is added, held in memory
     */
    public HashTally(boolean wholeRow, int maxKeys, long maxBytes, Path temporary) {
        this.wholeRow = wholeRow;
        this.maxKeys = maxKeys;
        this.maxLongs = maxBytes / Long.BYTES;
        this.temporary = temporary;
    }

    private ToolException noRoom(IOException e) {
        return new ToolException(
                ErrorKind.INCOMPLETE,
                "can't keep hashes of rows on disk",
                temporary + ": " + e.getMessage(),
                "make room there, or choose another temporary folder",
                e);
    }

    /** The slot of a key, or the free one in which it belongs. */
    private static int slot(long[] table, long key) {
        int mask = table.length / LONGS_PER_KEY - 1;
        int slot = (int) (key ^ key >>> Integer.SIZE) & mask;
        while (isUsed(table, slot) && table[slot * LONGS_PER_KEY + KEY] != key) {
            slot = slot + 1 & mask;
        }
        return slot;
    }

    private static boolean isUsed(long[] table, int slot) {
        int at = slot * LONGS_PER_KEY;
        return (table[at + OF_SOURCE] | table[at + OF_TARGET]) != 0;
    }

    /**
     * Adds rows of one side that have the same hashes.
     *
     * @param times how many
     */
    public void add(Side side, long key, long row, long times) {
        added += times;
        int bin = (int) (key >>> BIN_SHIFT) & BINS - 1;
        int at = filled[bin];
        if (at + LONGS_PER_ROW > bins[bin].length) {
            lengthen(bin);
            at = filled[bin];
        }
        long[] into = bins[bin];
        into[at] = key;
        into[at + 1] = row;
        into[at + 2] = side == Side.SOURCE ? times : -times;
        filled[bin] = at + LONGS_PER_ROW;
    }

    private void lengthen(int bin) {
        int now = bins[bin].length;
        int wanted = Math.max(FIRST_LONGS, Math.multiplyExact(now, 2));
        if (held + wanted - now > maxLongs && now > 0) {
            spill();
            return;
        }
        held += wanted - now;
        bins[bin] = Arrays.copyOf(bins[bin], wanted);
    }

    private void spill() {
        for (int bin = 0; bin < BINS; bin++) {
            if (files.get(bin).isEmpty()) {
                files.set(bin, Optional.of(new Rest()));
            }
            Rest file = files.get(bin).get();
            for (int at = 0; at < filled[bin]; at += LONGS_PER_ROW) {
                file.add(bins[bin][at], bins[bin][at + 1], bins[bin][at + 2]);
            }
            filled[bin] = 0;
        }
    }

    /** Takes a row into the table, unless there are too many keys. */
    private void hold(long key, long row, long times) {
        int slot = slot(table, key);
        if (!isUsed(table, slot)) {
            if (keys == maxKeys) {
                rest = rest.or(() -> Optional.of(new Rest()));
                rest.get().add(key, row, times);
                return;
            }
            keys++;
            table[slot * LONGS_PER_KEY + KEY] = key;
            table[slot * LONGS_PER_KEY + ROW] = row;
        } else if (table[slot * LONGS_PER_KEY + ROW] != row) {
            mixed[slot] = true;
        }
        if (times > 0) {
            table[slot * LONGS_PER_KEY + OF_SOURCE] += times;
        } else {
            table[slot * LONGS_PER_KEY + OF_TARGET] -= times;
        }
        if (keys * 2L * LONGS_PER_KEY > table.length) {
            grow();
        }
    }

    private void grow() {
        long[] larger = new long[Math.multiplyExact(table.length, 2)];
        boolean[] largerMixed = new boolean[mixed.length * 2];
        for (int slot = 0; slot < mixed.length; slot++) {
            if (isUsed(table, slot)) {
                int to = slot(larger, table[slot * LONGS_PER_KEY + KEY]);
                System.arraycopy(table, slot * LONGS_PER_KEY, larger, to * LONGS_PER_KEY, LONGS_PER_KEY);
                largerMixed[to] = mixed[slot];
            }
        }
        table = larger;
        mixed = largerMixed;
    }

    /**
     * Tells of all that was added; nothing is added afterwards.
     *
     * @param samples about how many keys of equal rows are in a sample, by which it is told where rows differ; none where rows
     *     have no key
     * @param left gets each key whose rows have no equal ones on the other side, or are repeated
     * @param sampled gets each key in the sample
     */
    public Told tell(int samples, LongConsumer left, LongConsumer sampled) {
        long perSample = wholeRow || samples == 0 ? 0 : Long.highestOneBit(Math.max(1, added / samples));
        Told told = Told.NOTHING;
        for (int bin = 0; bin < BINS; bin++) {
            clear();
            Optional<Rest> file = files.get(bin);
            files.set(bin, Optional.empty());
            file.ifPresent(this::holdAll);
            for (int at = 0; at < filled[bin]; at += LONGS_PER_ROW) {
                hold(bins[bin][at], bins[bin][at + 1], bins[bin][at + 2]);
            }
            bins[bin] = new long[0];
            told = told.plus(tellHeld(perSample, left, sampled));
            while (rest.isPresent()) {
                Rest others = rest.get();
                rest = Optional.empty();
                clear();
                holdAll(others);
                told = told.plus(tellHeld(perSample, left, sampled));
            }
        }
        return told;
    }

    private void clear() {
        Arrays.fill(table, 0);
        Arrays.fill(mixed, false);
        keys = 0;
    }

    private void holdAll(Rest others) {
        try {
            others.out.close();
            try (DataInputStream in =
                    new DataInputStream(new BufferedInputStream(Files.newInputStream(others.file), BUFFER))) {
                for (long left = Files.size(others.file); left > 0; left -= LONGS_PER_ROW * Long.BYTES) {
                    hold(in.readLong(), in.readLong(), in.readLong());
                }
            }
            others.remove();
        } catch (IOException e) {
            throw noRoom(e);
        }
    }

    private Told tellHeld(long perSample, LongConsumer left, LongConsumer sampled) {
        long equal = 0;
        long inSample = 0;
        long sourceLeft = 0;
        long targetLeft = 0;
        for (int slot = 0; slot < mixed.length; slot++) {
            long ofSource = table[slot * LONGS_PER_KEY + OF_SOURCE];
            long ofTarget = table[slot * LONGS_PER_KEY + OF_TARGET];
            if ((ofSource | ofTarget) == 0) {
                continue;
            }
            long key = table[slot * LONGS_PER_KEY + KEY];
            boolean same = !mixed[slot] && ofSource == ofTarget && (wholeRow || ofSource == 1);
            if (same) {
                equal += ofSource;
                if (perSample > 0 && (key & perSample - 1) == 0) {
                    inSample += ofSource;
                    sampled.accept(key);
                }
            } else {
                sourceLeft += ofSource;
                targetLeft += ofTarget;
                left.accept(key);
            }
        }
        return new Told(equal, inSample, sourceLeft, targetLeft);
    }

    @Override
    public void close() {
        rest.ifPresent(Rest::remove);
        files.forEach(file -> file.ifPresent(Rest::remove));
    }
}
