package sharptally.spark.work;

import java.io.Serializable;
import java.util.List;

/** Hashes of keys, to be asked for. Not changed once it is made. */
public final class KeySet implements Serializable {
    private final long[] slots;
    private final boolean holdsZero;

    public KeySet(List<long[]> keys) {
        long count = keys.stream().mapToLong(k -> k.length).sum();
        slots = new long[Math.toIntExact(Long.highestOneBit(Math.max(16, count)) * 4)];
        boolean zero = false;
        for (long[] some : keys) {
            for (long key : some) {
                zero |= key == 0;
                slots[slot(key)] = key;
            }
        }
        holdsZero = zero;
    }

    private int slot(long key) {
        int slot = (int) (key ^ key >>> Integer.SIZE) & slots.length - 1;
        while (slots[slot] != 0 && slots[slot] != key) {
            slot = slot + 1 & slots.length - 1;
        }
        return slot;
    }

    boolean holds(long key) {
        return key == 0 ? holdsZero : slots[slot(key)] == key;
    }
}
