package sharptally.spark.sums;

import java.nio.ByteBuffer;
import java.nio.LongBuffer;
import sharptally.core.range.RangeSum;

/** Checksums of many slices, as they are sent: three numbers each. */
public final class SliceSums {
    private static final int LONGS = 3;

    private final long[] sums;

    SliceSums(int slices) {
        sums = new long[Math.multiplyExact(slices, LONGS)];
    }

    private SliceSums(long[] sums) {
        this.sums = sums;
    }

    void add(int slice, RangeSum sum) {
        sums[slice * LONGS] += sum.rows();
        sums[slice * LONGS + 1] += sum.sum();
        sums[slice * LONGS + 2] += sum.unhashed();
    }

    public RangeSum of(int slice) {
        return new RangeSum(sums[slice * LONGS], sums[slice * LONGS + 1], sums[slice * LONGS + 2]);
    }

    byte[] bytes() {
        ByteBuffer bytes = ByteBuffer.allocate(Math.multiplyExact(sums.length, Long.BYTES));
        bytes.asLongBuffer().put(sums);
        return bytes.array();
    }

    public static SliceSums of(byte[] bytes) {
        LongBuffer longs = ByteBuffer.wrap(bytes).asLongBuffer();
        long[] sums = new long[longs.remaining()];
        longs.get(sums);
        return new SliceSums(sums);
    }

    /** Both together. */
    public static byte[] plus(byte[] one, byte[] other) {
        long[] sums = of(one).sums;
        long[] more = of(other).sums;
        for (int i = 0; i < sums.length; i++) {
            sums[i] += more[i];
        }
        return new SliceSums(sums).bytes();
    }
}
