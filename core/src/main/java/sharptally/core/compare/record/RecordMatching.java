package sharptally.core.compare.record;

import java.util.Arrays;
import java.util.BitSet;
import java.util.Optional;

/**
 * Which records of two sides have no equal one on the other side. Records without a key, with one that is repeated on a side,
 * and some of all keys, by which it is told where in the table rows differ, are among them as well.
 */
final class RecordMatching {
    private static final int NONE = -1;

    private final boolean wholeRow;
    private final long rowsPerSample;
    /** Those that have an equal one. */
    private final BitSet source = new BitSet();

    private final BitSet target = new BitSet();
    private final Optional<Keys> keysOfSource;
    private final Optional<Keys> keysOfTarget;
    private long equal;

    /** Hashes of keys. */
    static final class Keys {
        private long[] keys = new long[16];
        private int size;

        private void add(long key) {
            if (size == keys.length) {
                keys = Arrays.copyOf(keys, size * 2);
            }
            keys[size++] = key;
        }

        private void addAll(Keys others) {
            for (int i = 0; i < others.size; i++) {
                add(others.keys[i]);
            }
        }

        int size() {
            return size;
        }

        long[] sorted() {
            long[] sorted = Arrays.copyOf(keys, size);
            Arrays.sort(sorted);
            return sorted;
        }
    }

    /**
     * @param wholeRow whether rows have no key, so that each is matched with any equal one
     * @param rows of the larger side
     * @param samples of about so many keys the rows are wanted in any case
     * @param keysOfSource whether the keys of its records that have no equal one are to be known
     */
    RecordMatching(boolean wholeRow, long rows, long samples, boolean keysOfSource, boolean keysOfTarget) {
        this.keysOfSource = keysOfSource ? Optional.of(new Keys()) : Optional.empty();
        this.keysOfTarget = keysOfTarget ? Optional.of(new Keys()) : Optional.empty();
        this.wholeRow = wholeRow;
        this.rowsPerSample = wholeRow ? Long.MAX_VALUE : Math.max(1, rows / Math.max(1, samples));
    }

    /** Records of the source, which has so many, that are not known to have an equal one. */
    BitSet source(long rows) {
        return others(source, rows);
    }

    BitSet target(long rows) {
        return others(target, rows);
    }

    private static BitSet others(BitSet equals, long rows) {
        BitSet others = (BitSet) equals.clone();
        others.flip(0, Math.toIntExact(rows));
        return others;
    }

    /** The same, and what was found by another one among other records. */
    RecordMatching and(RecordMatching other) {
        source.or(other.source);
        target.or(other.target);
        equal += other.equal;
        keysOfSource.ifPresent(keys -> keys.addAll(other.keysOfSource()));
        keysOfTarget.ifPresent(keys -> keys.addAll(other.keysOfTarget()));
        return this;
    }

    /** Of records that have no equal one; none where they were not to be known. */
    Keys keysOfSource() {
        return keysOfSource.orElseGet(Keys::new);
    }

    Keys keysOfTarget() {
        return keysOfTarget.orElseGet(Keys::new);
    }

    /** How many pairs of equal records there are beside those. */
    long equal() {
        return equal;
    }

    void match(RecordSpill.Part ofSource, RecordSpill.Part ofTarget) {
        if (wholeRow) {
            matchRows(ofSource, ofTarget);
        } else {
            matchKeys(ofSource, ofTarget);
        }
        keysOfSource.ifPresent(keys -> keep(ofSource, source, keys));
        keysOfTarget.ifPresent(keys -> keep(ofTarget, target, keys));
    }

    private static void keep(RecordSpill.Part part, BitSet equals, Keys keys) {
        for (int i = 0; i < part.rows(); i++) {
            if (!equals.get(Math.toIntExact(part.number(i)))) {
                keys.add(part.key(i));
            }
        }
    }

    private void found(RecordSpill.Part ofSource, int one, RecordSpill.Part ofTarget, int other) {
        source.set(Math.toIntExact(ofSource.number(one)));
        target.set(Math.toIntExact(ofTarget.number(other)));
        equal++;
    }

    private static int[] table(int rows) {
        int[] slots = new int[Math.max(16, Integer.highestOneBit(rows) * 4)];
        Arrays.fill(slots, NONE);
        return slots;
    }

    /** The slot of a key, or the free one in which it belongs. */
    private static int slot(int[] slots, RecordSpill.Part part, long key) {
        int slot = (int) key & slots.length - 1;
        while (slots[slot] != NONE && part.key(slots[slot]) != key) {
            slot = slot + 1 & slots.length - 1;
        }
        return slot;
    }

    private void matchKeys(RecordSpill.Part ofSource, RecordSpill.Part ofTarget) {
        int[] slots = table(ofSource.rows());
        BitSet repeated = new BitSet(ofSource.rows());
        for (int i = 0; i < ofSource.rows(); i++) {
            int slot = slot(slots, ofSource, ofSource.key(i));
            if (slots[slot] == NONE) {
                slots[slot] = i;
            } else {
                repeated.set(slots[slot]);
            }
        }
        int[] partner = new int[ofSource.rows()];
        Arrays.fill(partner, NONE);
        for (int i = 0; i < ofTarget.rows(); i++) {
            int known = slots[slot(slots, ofSource, ofTarget.key(i))];
            if (known != NONE && partner[known] != NONE) {
                repeated.set(known);
            } else if (known != NONE) {
                partner[known] = i;
            }
        }
        for (int i = 0; i < ofSource.rows(); i++) {
            if (partner[i] != NONE
                    && !repeated.get(i)
                    && ofSource.row(i) == ofTarget.row(partner[i])
                    && ofSource.number(i) % rowsPerSample != 0) {
                found(ofSource, i, ofTarget, partner[i]);
            }
        }
    }

    /** Of equal rows, both sides need to have as many, or all of them are among the others: how many both have is told. */
    private void matchRows(RecordSpill.Part ofSource, RecordSpill.Part ofTarget) {
        int[] slots = table(ofSource.rows());
        int[] more = new int[ofSource.rows()];
        int[] firsts = new int[ofSource.rows()];
        for (int i = 0; i < ofSource.rows(); i++) {
            int slot = slot(slots, ofSource, ofSource.key(i));
            if (slots[slot] == NONE) {
                slots[slot] = i;
            }
            firsts[i] = ofSource.row(slots[slot]) == ofSource.row(i) ? slots[slot] : NONE;
            if (firsts[i] != NONE) {
                more[firsts[i]]++;
            }
        }
        int[] firstsOfTarget = new int[ofTarget.rows()];
        for (int i = 0; i < ofTarget.rows(); i++) {
            int known = slots[slot(slots, ofSource, ofTarget.key(i))];
            firstsOfTarget[i] = known != NONE && ofSource.row(known) == ofTarget.row(i) ? known : NONE;
            if (firstsOfTarget[i] != NONE) {
                more[known]--;
            }
        }
        for (int i = 0; i < ofSource.rows(); i++) {
            if (firsts[i] != NONE && more[firsts[i]] == 0) {
                source.set(Math.toIntExact(ofSource.number(i)));
                equal++;
            }
        }
        for (int i = 0; i < ofTarget.rows(); i++) {
            if (firstsOfTarget[i] != NONE && more[firstsOfTarget[i]] == 0) {
                target.set(Math.toIntExact(ofTarget.number(i)));
            }
        }
    }
}
