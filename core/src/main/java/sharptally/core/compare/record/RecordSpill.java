package sharptally.core.compare.record;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.ByteBuffer;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.Arrays;
import java.util.Optional;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.part.Records;

/**
 * The hashes of one side's records, in parts by the hash of their key: in memory as long as there is room, else in files that
 * their owner alone can read. Filled by one thread; parts may be had by several.
 */
final class RecordSpill implements Records.Taking, AutoCloseable {
    static final int PARTS = 256;
    private static final int PART_BITS = 8;
    private static final int FIRST_LONGS = 1 << 8;
    private static final int LONGS_PER_ROW = 3;
    /** A part is small if so many of its size fit in what is held. */
    private static final int SMALL_PARTS = 8;

    private static final int LONGS_AT_ONCE = 1 << 13;

    private final Path folder;
    private final long maxLongs;
    private final long[][] parts = new long[PARTS][0];
    private final int[] filled = new int[PARTS];
    private final Path[] files = new Path[PARTS];
    private long held;
    private long rows;

    /**
     * @param maxBytes held in memory
     */
    RecordSpill(Path folder, long maxBytes) {
        this.folder = folder;
        this.maxLongs = maxBytes / Long.BYTES;
    }

    /** Numbers and hashes of some records: three longs each, number, key and row. */
    record Part(long[] longs, int rows) {
        long number(int i) {
            return longs[i * LONGS_PER_ROW];
        }

        long key(int i) {
            return longs[i * LONGS_PER_ROW + 1];
        }

        long row(int i) {
            return longs[i * LONGS_PER_ROW + 2];
        }
    }

    @Override
    public void take(long key, long row) {
        int part = (int) (key >>> Long.SIZE - PART_BITS);
        long[] into = parts[part];
        int at = filled[part];
        if (at + LONGS_PER_ROW > into.length) {
            into = grown(part);
            at = filled[part];
        }
        into[at] = rows++;
        into[at + 1] = key;
        into[at + 2] = row;
        filled[part] = at + LONGS_PER_ROW;
    }

    @Override
    public void takeWithoutKey() {
        rows++;
    }

    long rows() {
        return rows;
    }

    private long[] grown(int part) {
        int now = parts[part].length;
        int wanted = Math.max(FIRST_LONGS * LONGS_PER_ROW, now / LONGS_PER_ROW * 3 / 2 * LONGS_PER_ROW);
        if (held + wanted - now > maxLongs && now > 0) {
            spill();
            return parts[part];
        }
        held += wanted - now;
        parts[part] = Arrays.copyOf(parts[part], wanted);
        return parts[part];
    }

    private void spill() {
        try {
            for (int part = 0; part < PARTS; part++) {
                if (files[part] == null) {
                    files[part] = Files.createTempFile(folder, "sharp-tally-records-", ".hashes");
                }
                try (OutputStream out =
                        Files.newOutputStream(files[part], StandardOpenOption.WRITE, StandardOpenOption.APPEND)) {
                    for (int from = 0; from < filled[part]; from += LONGS_AT_ONCE) {
                        int count = Math.min(LONGS_AT_ONCE, filled[part] - from);
                        ByteBuffer bytes = ByteBuffer.allocate(count * Long.BYTES);
                        bytes.asLongBuffer().put(parts[part], from, count);
                        out.write(bytes.array());
                    }
                }
                filled[part] = 0;
            }
        } catch (IOException e) {
            throw noRoom(e);
        }
    }

    private ToolException noRoom(IOException e) {
        return new ToolException(
                ErrorKind.INCOMPLETE,
                "can't keep hashes of records on disk",
                folder + ": " + e.getMessage(),
                "make room there, or choose another temporary folder",
                e);
    }

    /** Whether parts of both sides fit in memory, two at a time; they do unless many keys are the same. */
    boolean isSmall() {
        try {
            boolean small = true;
            for (int part = 0; part < PARTS; part++) {
                long before = files[part] == null ? 0 : Files.size(files[part]) / Long.BYTES;
                small &= before + filled[part]
                        <= Math.max(
                                FIRST_LONGS * LONGS_PER_ROW, Math.min(maxLongs / SMALL_PARTS, Integer.MAX_VALUE / 2));
            }
            return small;
        } catch (IOException e) {
            throw noRoom(e);
        }
    }

    /** All records of a part; it is let go of here. */
    Part part(int part) {
        long[] inMemory = parts[part];
        parts[part] = new long[0];
        Optional<Path> file = Optional.ofNullable(files[part]);
        if (file.isEmpty()) {
            return new Part(inMemory, filled[part] / LONGS_PER_ROW);
        }
        try (InputStream in = Files.newInputStream(file.get())) {
            byte[] bytes = in.readAllBytes();
            int before = bytes.length / Long.BYTES;
            long[] all = new long[before + filled[part]];
            ByteBuffer.wrap(bytes).asLongBuffer().get(all, 0, before);
            System.arraycopy(inMemory, 0, all, before, filled[part]);
            return new Part(all, all.length / LONGS_PER_ROW);
        } catch (IOException e) {
            throw noRoom(e);
        }
    }

    @Override
    public void close() {
        for (Path file : files) {
            try {
                if (file != null) {
                    Files.deleteIfExists(file);
                }
            } catch (IOException e) {
                file.toFile().deleteOnExit();
            }
        }
    }
}
