package sharptally.core.rows;

import java.io.Serializable;
import java.lang.invoke.MethodHandles;
import java.lang.invoke.VarHandle;
import java.nio.ByteOrder;
import java.util.Random;

/**
 * Hashes of the fields of records, 64 bits, by secrets of its own: two records whose fields differ have the same hash with a
 * chance of about 1 in 2^64, whatever they hold, since nobody can know the secrets beforehand. The hash of the key and that of
 * the row are made of the same hashes of fields. Immutable.
 *
 * <p>A field goes through a folded multiplication of 64 by 64 bits for each eight of its bytes; the hashes of fields, mixed with
 * constants of their columns, are added up.
 */
public final class RecordHash implements Serializable {
    /** In place of a field that is NULL. */
    public static final long NULL = 0x5F3C_9A17_44D0_E621L;

    private static final VarHandle LONG = MethodHandles.byteArrayViewVarHandle(long[].class, ByteOrder.LITTLE_ENDIAN);
    private static final int LONG_BYTES = 8;

    private final long first;
    private final long second;
    private final long third;
    private final long[] ofColumns;

    /**
     * @param columns how many fields a record has
     * @param random where the secrets come from; one that can't be foreseen, but in tests
     */
    public RecordHash(int columns, Random random) {
        this.first = random.nextLong();
        this.second = random.nextLong();
        this.third = random.nextLong();
        this.ofColumns = random.longs(2L * columns).toArray();
    }

    private static long folded(long one, long other) {
        return Math.multiplyHigh(one, other) ^ one * other;
    }

    /** Of a field that is not NULL. */
    public long ofField(byte[] bytes, int from, int length) {
        long hash = first ^ length;
        int at = from;
        int end = from + length;
        for (; at + LONG_BYTES <= end; at += LONG_BYTES) {
            hash = folded((long) LONG.get(bytes, at) ^ second, hash ^ third);
        }
        if (at < end) {
            hash = folded(rest(bytes, at, end) ^ second, hash ^ third);
        }
        return folded(hash ^ third, first);
    }

    /** Fewer than eight bytes, the first of them the lowest. */
    private static long rest(byte[] bytes, int from, int end) {
        if (end >= LONG_BYTES) {
            return (long) LONG.get(bytes, end - LONG_BYTES) >>> Byte.SIZE * (LONG_BYTES - (end - from));
        }
        long rest = 0;
        for (int i = end - 1; i >= from; i--) {
            rest = rest << Byte.SIZE | bytes[i] & 0xFF;
        }
        return rest;
    }

    /** Of a value that is two numbers, of some kind. */
    public long ofNumbers(int kind, long one, long other) {
        long hash = folded(one ^ second, first ^ kind ^ third);
        return folded(folded(other ^ second, hash ^ third) ^ third, first);
    }

    /** What a field adds to the hash of its record. */
    public long inRow(int column, long ofField) {
        return folded(ofField ^ ofColumns[2 * column], ofColumns[2 * column + 1] | 1);
    }

    /** What a field adds to the hash of the key. */
    public long inKey(int column, long ofField) {
        return folded(ofField ^ ofColumns[2 * column + 1], ofColumns[2 * column] | 1);
    }
}
