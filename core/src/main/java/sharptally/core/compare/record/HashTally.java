package sharptally.core.compare.record;

import java.io.BufferedOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.EOFException;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.Optional;
import java.util.function.LongConsumer;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Side;

/**
 * Holds rows of both sides against each other by their hashes, in whatever order they come and however often, and tells the keys
 * whose rows have to be looked at. Used by one thread.
 *
 * <p>Idea: one entry per key, with how many rows each side has of it and whether all of them have the same hash. Memory: so many
 * entries; the rows of all keys beyond go to a file that its owner alone can read, and are gone through when the others are
 * done, again so many keys at a time.
 */
public final class HashTally implements AutoCloseable {
    private static final int LONGS_PER_KEY = 4;
    private static final int KEY = 0;
    private static final int ROW = 1;
    private static final int OF_SOURCE = 2;
    private static final int OF_TARGET = 3;
    private static final int FIRST_SLOTS = 1 << 10;

    private final boolean wholeRow;
    private final int maxKeys;
    private final Path temporary;
    private long[] table = new long[FIRST_SLOTS * LONGS_PER_KEY];
    private boolean[] mixed = new boolean[FIRST_SLOTS];
    private int keys;
    private long added;
    private Optional<Rest> rest = Optional.empty();

    /**
     * What is known of some keys.
     *
     * @param equal how many pairs of equal rows there are beside those of the keys that are left
     * @param sourceLeft how many rows the source has of the keys that are left
     */
    public record Told(long equal, long sourceLeft, long targetLeft) {
        public static final Told NOTHING = new Told(0, 0, 0);

        public Told plus(Told other) {
            return new Told(equal + other.equal, sourceLeft + other.sourceLeft, targetLeft + other.targetLeft);
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
                out = new DataOutputStream(new BufferedOutputStream(to, 1 << 16));
            } catch (IOException e) {
                throw noRoom(e);
            }
        }

        void add(Side side, long key, long row, long times) {
            try {
                out.writeLong(key);
                out.writeLong(row);
                out.writeLong(side == Side.SOURCE ? times : -times);
            } catch (IOException e) {
                throw noRoom(e);
            }
        }
    }

    /**
     * @param wholeRow whether rows have no key, so that each is matched with any equal one
     * @param maxKeys how many keys are held in memory at once
     */
    public HashTally(boolean wholeRow, int maxKeys, Path temporary) {
        this.wholeRow = wholeRow;
        this.maxKeys = maxKeys;
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
        hold(side, key, row, times);
    }

    private void hold(Side side, long key, long row, long times) {
        int slot = slot(table, key);
        if (!isUsed(table, slot)) {
            if (keys == maxKeys) {
                rest = rest.or(() -> Optional.of(new Rest()));
                rest.get().add(side, key, row, times);
                return;
            }
            keys++;
            table[slot * LONGS_PER_KEY + KEY] = key;
            table[slot * LONGS_PER_KEY + ROW] = row;
        } else if (table[slot * LONGS_PER_KEY + ROW] != row) {
            mixed[slot] = true;
        }
        table[slot * LONGS_PER_KEY + (side == Side.SOURCE ? OF_SOURCE : OF_TARGET)] += times;
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
     * @param samples of about so many keys, the rows are left in any case; none where rows have no key
     * @param left gets each key whose rows have no equal ones on the other side, are repeated, or are among the samples
     */
    public Told tell(int samples, LongConsumer left) {
        long perSample = wholeRow || samples == 0 ? 0 : Long.highestOneBit(Math.max(1, added / samples));
        Told told = tellHeld(perSample, left);
        while (rest.isPresent()) {
            Rest others = rest.get();
            rest = Optional.empty();
            Arrays.fill(table, 0);
            Arrays.fill(mixed, false);
            keys = 0;
            addAll(others);
            told = told.plus(tellHeld(perSample, left));
        }
        return told;
    }

    private void addAll(Rest others) {
        try {
            others.out.close();
            try (DataInputStream in =
                    new DataInputStream(new java.io.BufferedInputStream(Files.newInputStream(others.file), 1 << 16))) {
                while (true) {
                    long key;
                    try {
                        key = in.readLong();
                    } catch (EOFException e) {
                        break;
                    }
                    long row = in.readLong();
                    long times = in.readLong();
                    hold(times > 0 ? Side.SOURCE : Side.TARGET, key, row, Math.abs(times));
                }
            }
            Files.delete(others.file);
        } catch (IOException e) {
            throw noRoom(e);
        }
    }

    private Told tellHeld(long perSample, LongConsumer left) {
        long equal = 0;
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
            if (same && (perSample == 0 || (key & perSample - 1) != 0)) {
                equal += ofSource;
            } else {
                sourceLeft += ofSource;
                targetLeft += ofTarget;
                left.accept(key);
            }
        }
        return new Told(equal, sourceLeft, targetLeft);
    }

    @Override
    public void close() {
        rest.ifPresent(others -> {
            try {
                others.out.close();
                Files.deleteIfExists(others.file);
            } catch (IOException e) {
                others.file.toFile().deleteOnExit();
            }
        });
    }
}
