package sharptally.spark.work;

import java.io.Serializable;
import java.nio.ByteBuffer;
import java.util.Arrays;
import java.util.Iterator;
import java.util.List;
import org.apache.spark.api.java.function.FlatMapFunction;
import scala.Tuple2;
import sharptally.core.compare.record.HashTally;

/**
 * Holds the hashes of one part of the rows against each other.
 *
 * @param samples of about so many keys of the part the rows are left in any case
 * @param maxLeft how many keys may be left in the part; of more, all rows are to be compared otherwise
 */
public record TallyTask(boolean wholeRow, int samples, int maxLeft)
        implements FlatMapFunction<Iterator<Tuple2<Integer, byte[]>>, byte[]> {
    private static final int MIN_KEYS = 1 << 18;
    private static final int MAX_KEYS = 1 << 24;
    private static final int BYTES_PER_KEY = 96;
    /** Of the memory of the executor, so much for the tables of all its tasks. */
    private static final int SHARE_OF_MEMORY = 4;

    /**
     * What came of a part.
     *
     * @param withoutKey rows of each side without a key, source first
     * @param left hashes of the keys whose rows are left, unless there are too many
     * @param sampled hashes of keys in the sample
     */
    public record Part(HashTally.Told told, long[] withoutKey, long[] left, long[] sampled, boolean tooMany)
            implements Serializable {
        private static final int HEAD = 8;

        byte[] bytes() {
            ByteBuffer out = ByteBuffer.allocate((HEAD + left.length + sampled.length) * Long.BYTES);
            out.putLong(told.equal())
                    .putLong(told.sampled())
                    .putLong(told.sourceLeft())
                    .putLong(told.targetLeft());
            out.putLong(withoutKey[0]).putLong(withoutKey[1]).putLong(tooMany ? 1 : 0);
            out.putLong(left.length).asLongBuffer().put(left).put(sampled);
            return out.array();
        }

        public static Part of(byte[] bytes) {
            ByteBuffer in = ByteBuffer.wrap(bytes);
            HashTally.Told told = new HashTally.Told(in.getLong(), in.getLong(), in.getLong(), in.getLong());
            long[] without = {in.getLong(), in.getLong()};
            boolean tooMany = in.getLong() == 1;
            long[] left = new long[(int) in.getLong()];
            long[] sampled = new long[in.remaining() / Long.BYTES - left.length];
            in.asLongBuffer().get(left).get(sampled);
            return new Part(told, without, left, sampled, tooMany);
        }
    }

    @Override
    public Iterator<byte[]> call(Iterator<Tuple2<Integer, byte[]>> chunks) {
        long memory = Runtime.getRuntime().maxMemory()
                / SHARE_OF_MEMORY
                / Runtime.getRuntime().availableProcessors();
        Left left = new Left(maxLeft);
        Left sampled = new Left(maxLeft);
        HashChunks.Without without = new HashChunks.Without();
        try (HashTally tally = new HashTally(
                wholeRow,
                (int) Math.max(MIN_KEYS, Math.min(MAX_KEYS, memory / BYTES_PER_KEY)),
                memory,
                SentMatch.temporary())) {
            while (chunks.hasNext()) {
                HashChunks.addTo(tally, chunks.next()._2(), without);
            }
            HashTally.Told told = tally.tell(samples, left::add, sampled::add);
            return List.of(new Part(
                                    told,
                                    new long[] {without.ofSource, without.ofTarget},
                                    left.tooMany ? new long[0] : Arrays.copyOf(left.keys, left.size),
                                    Arrays.copyOf(sampled.keys, sampled.size),
                                    left.tooMany)
                            .bytes())
                    .iterator();
        }
    }

    private static final class Left {
        private final int max;
        private long[] keys = new long[16];
        private int size;
        private boolean tooMany;

        Left(int max) {
            this.max = max;
        }

        void add(long key) {
            if (size == max) {
                tooMany = true;
                return;
            }
            if (size == keys.length) {
                keys = Arrays.copyOf(keys, size * 2);
            }
            keys[size++] = key;
        }
    }
}
