package sharptally.spark.work;

import java.nio.ByteBuffer;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import scala.Tuple2;
import sharptally.core.compare.record.HashTally;
import sharptally.core.place.Side;
import sharptally.core.place.part.Records;

/**
 * Hashes of the rows of one side, in parts by the hash of their key, as they are sent: many in one chunk. Equal rows that are near
 * each other are counted instead of being sent one by one, so that a million equal ones are no load.
 */
final class HashChunks implements Records.Taking {
    private static final byte SINGLE = 0;
    private static final byte COUNTED = 1;
    private static final byte WITHOUT_KEY = 2;
    private static final int TARGET = 4;

    private static final int RECENT = 1 << 12;
    private static final int LONGS_PER_SINGLE = 2;
    private static final int LONGS_PER_COUNTED = 3;
    /** Of a chunk, in longs, at most. */
    private static final int MAX_CHUNK = 1 << 12;

    private static final int MIN_CHUNK = 1 << 6;
    /** Of all chunks that are being filled, in longs, about. */
    private static final int MAX_HELD = 1 << 22;

    private final Side side;
    private final int parts;
    private final int chunk;
    private final long[][] singles;
    private final int[] filled;
    private final List<Tuple2<Integer, byte[]>> full = new ArrayList<>();
    private final long[] recentKeys = new long[RECENT];
    private final long[] recentRows = new long[RECENT];
    private final long[] recentTimes = new long[RECENT];
    private long withoutKey;

    HashChunks(Side side, int parts) {
        this.side = side;
        this.parts = parts;
        this.chunk = Math.max(MIN_CHUNK, Math.min(MAX_CHUNK, MAX_HELD / parts)) & -LONGS_PER_SINGLE;
        this.singles = new long[parts][0];
        this.filled = new int[parts];
    }

    /** The part to which a key belongs; other bits than those by which keys are found within a part. */
    static int part(long key, int parts) {
        return (int) ((key >>> 34) % parts);
    }

    @Override
    public void take(long key, long row) {
        int place = (int) (key >>> 16) & RECENT - 1;
        if (recentTimes[place] > 0 && recentKeys[place] == key && recentRows[place] == row) {
            recentTimes[place]++;
            return;
        }
        send(place);
        recentKeys[place] = key;
        recentRows[place] = row;
        recentTimes[place] = 1;
    }

    @Override
    public void takeWithoutKey() {
        withoutKey++;
    }

    private void send(int place) {
        long times = recentTimes[place];
        if (times == 0) {
            return;
        }
        recentTimes[place] = 0;
        int part = part(recentKeys[place], parts);
        if (times > 1) {
            add(part, COUNTED, new long[] {recentKeys[place], recentRows[place], times}, LONGS_PER_COUNTED);
            return;
        }
        if (singles[part].length == 0) {
            singles[part] = new long[chunk];
        }
        singles[part][filled[part]] = recentKeys[place];
        singles[part][filled[part] + 1] = recentRows[place];
        filled[part] += LONGS_PER_SINGLE;
        if (filled[part] == chunk) {
            add(part, SINGLE, singles[part], chunk);
            filled[part] = 0;
        }
    }

    private void add(int part, byte kind, long[] longs, int count) {
        ByteBuffer bytes = ByteBuffer.allocate(1 + count * Long.BYTES);
        bytes.put((byte) (kind | (side == Side.TARGET ? TARGET : 0)));
        bytes.asLongBuffer().put(longs, 0, count);
        full.add(new Tuple2<>(part, bytes.array()));
    }

    /** The chunks that are to be sent now; they are let go of here. */
    List<Tuple2<Integer, byte[]>> full() {
        List<Tuple2<Integer, byte[]>> now = List.copyOf(full);
        full.clear();
        return now;
    }

    /** After the last row: all that is left. */
    void end() {
        for (int place = 0; place < RECENT; place++) {
            send(place);
        }
        for (int part = 0; part < parts; part++) {
            if (filled[part] > 0) {
                add(part, SINGLE, singles[part], filled[part]);
            }
        }
        Arrays.fill(singles, new long[0]);
        if (withoutKey > 0) {
            add(0, WITHOUT_KEY, new long[] {withoutKey}, 1);
        }
    }

    /** How many rows without a key each side has. */
    static final class Without {
        long ofSource;
        long ofTarget;
    }

    /** Adds what a chunk holds. */
    static void addTo(HashTally tally, byte[] chunk, Without without) {
        ByteBuffer bytes = ByteBuffer.wrap(chunk);
        byte head = bytes.get();
        Side side = (head & TARGET) != 0 ? Side.TARGET : Side.SOURCE;
        switch (head & ~TARGET) {
            case SINGLE -> {
                while (bytes.hasRemaining()) {
                    tally.add(side, bytes.getLong(), bytes.getLong(), 1);
                }
            }
            case COUNTED -> tally.add(side, bytes.getLong(), bytes.getLong(), bytes.getLong());
            case WITHOUT_KEY -> {
                long rows = bytes.getLong();
                without.ofSource += side == Side.SOURCE ? rows : 0;
                without.ofTarget += side == Side.TARGET ? rows : 0;
            }
            default -> throw new IllegalStateException("no such chunk: " + head);
        }
    }
}
