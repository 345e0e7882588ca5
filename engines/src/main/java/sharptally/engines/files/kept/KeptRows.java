package sharptally.engines.files.kept;

import com.github.luben.zstd.ZstdInputStream;
import com.github.luben.zstd.ZstdOutputStream;
import java.io.BufferedOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.rows.Column;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowBytes;
import sharptally.core.rows.RowCodec;
import sharptally.core.rows.RowIn;
import sharptally.core.rows.RowSource;

/**
 * Rows that were kept of one table: packed, with a checksum, and how many there are is in the name of their file.
 *
 * @param name of the table, among those of its dump
 */
public record KeptRows(Kept kept, String name) {
    static final String ENDING = ".rows";
    private static final int BUFFER_BYTES = 1 << 16;
    private static final int ROWS_PER_BATCH = 2_048;
    private static final int CELLS_PER_BATCH = 1 << 17;
    private static final int MAX_BATCH_BYTES = 2 << 20;
    /** Room that is left for others. */
    private static final long SPARE_BYTES = 1L << 30;

    /** How many rows were kept; empty where none were, as none were read to their end. */
    public OptionalLong count() {
        return file().map(f -> OptionalLong.of(
                        Long.parseLong(f.getFileName().toString().split("\\.")[1])))
                .orElse(OptionalLong.empty());
    }

    private Optional<Path> file() {
        try (Stream<Path> files = Files.list(kept.folder())) {
            return files.filter(f -> f.getFileName().toString().matches(name + "\\.\\d+\\" + ENDING))
                    .findFirst();
        } catch (IOException e) {
            return Optional.empty();
        }
    }

    /**
     * The rows that were kept.
     *
     * @param columns how many each row has
     * @param wanted which of them are handed out, in this order
     */
    public RowSource read(int columns, int[] wanted, long skip, OptionalLong limit) {
        return new Reader(file().orElseThrow(), columns, wanted, skip, limit);
    }

    /** The same rows, which are kept once they were read to their end. */
    public RowSource keeping(RowSource rows, int[] wanted) {
        return new Keeper(rows, wanted, kept, name);
    }

    private static RowBatch only(RowBatch batch, int[] wanted) {
        return new RowBatch(IntStream.of(wanted).mapToObj(batch::column).toList(), batch.rows());
    }

    private static final class Reader implements RowSource {
        private final Path file;
        private final RowIn in;
        private final int columns;
        private final int[] wanted;
        private final int rowsPerBatch;
        private final long skip;
        private final long end;
        private final long count;
        private long at;

        Reader(Path file, int columns, int[] wanted, long skip, OptionalLong limit) {
            this.file = file;
            this.columns = columns;
            this.wanted = wanted;
            this.skip = skip;
            this.count = Long.parseLong(file.getFileName().toString().split("\\.")[1]);
            this.end = limit.isPresent() ? Math.min(count, skip + limit.getAsLong()) : count;
            this.rowsPerBatch = Math.max(16, Math.min(ROWS_PER_BATCH, CELLS_PER_BATCH / columns));
            try {
                checkAll();
                this.in = new RowIn(new ZstdInputStream(Files.newInputStream(file)), BUFFER_BYTES);
            } catch (IOException e) {
                throw damaged(e);
            }
        }

        @Override
        public Optional<RowBatch> next() {
            try {
                List<Column> batch = RowCodec.emptyColumns(columns, rowsPerBatch);
                int rows = 0;
                while (at < end && rows < rowsPerBatch && (rows % 16 != 0 || !isFull(batch))) {
                    boolean passed = at++ < skip;
                    RowCodec.read(in, passed ? RowCodec.emptyColumns(columns, 1) : batch);
                    rows += passed ? 0 : 1;
                }
                if (at == count && rows == 0 && in.hasMore()) {
                    throw new IOException("there are more than " + count + " rows");
                }
                return rows == 0 ? Optional.empty() : Optional.of(only(new RowBatch(batch, rows), wanted));
            } catch (IOException e) {
                throw damaged(e);
            }
        }

        /** What is damaged might be taken for rows, or for a value beyond all measure, before its checksum is reached. */
        private void checkAll() throws IOException {
            byte[] buffer = new byte[BUFFER_BYTES];
            try (InputStream all = new ZstdInputStream(Files.newInputStream(file))) {
                while (all.read(buffer) >= 0) {
                    // unpacking it is the check
                }
            }
        }

        private static boolean isFull(List<Column> batch) {
            return batch.stream().mapToLong(Column::arenaSize).sum() >= MAX_BATCH_BYTES;
        }

        private ToolException damaged(IOException e) {
            return new ToolException(
                    ErrorKind.READ,
                    "what was kept of a dump is damaged (" + e.getMessage() + ")",
                    file.toString(),
                    "remove the folder " + file.getParent() + ", and compare again",
                    e);
        }

        @Override
        public void close() {
            try {
                in.close();
            } catch (IOException e) {
                throw damaged(e);
            }
        }
    }

    /** Where rows can't be kept, they are handed out all the same. */
    private static final class Keeper implements RowSource {
        private final RowSource rows;
        private final int[] wanted;
        private final Kept kept;
        private final String name;
        private Optional<Path> begun = Optional.empty();
        private Optional<OutputStream> out = Optional.empty();
        private long count;
        private volatile boolean closed;

        Keeper(RowSource rows, int[] wanted, Kept kept, String name) {
            this.rows = rows;
            this.wanted = wanted;
            this.kept = kept;
            this.name = name;
            try {
                Path file = kept.begun(name);
                begun = Optional.of(file);
                ZstdOutputStream packed = new ZstdOutputStream(Files.newOutputStream(file), 1);
                packed.setChecksum(true);
                out = Optional.of(new BufferedOutputStream(packed, BUFFER_BYTES));
            } catch (IOException e) {
                giveUp();
            }
        }

        @Override
        public synchronized Optional<RowBatch> next() {
            Optional<RowBatch> batch = rows.next();
            // Rows that are closed from elsewhere end before their end.
            if (!closed && batch.isPresent()) {
                out.ifPresent(to -> keep(batch.get(), to));
            } else if (!closed) {
                out.ifPresent(this::finish);
            }
            return batch.map(b -> only(b, wanted));
        }

        private void keep(RowBatch batch, OutputStream to) {
            try {
                RowBytes bytes = new RowBytes(batch);
                for (int row = 0; row < batch.rows(); row++) {
                    bytes.writeTo(to, row);
                }
                count += batch.rows();
                if (Files.getFileStore(kept.folder()).getUsableSpace() < SPARE_BYTES) {
                    giveUp();
                }
            } catch (IOException e) {
                giveUp();
            }
        }

        private void finish(OutputStream to) {
            try {
                to.close();
                out = Optional.empty();
                kept.done(begun.orElseThrow(), name + "." + count + ENDING);
                begun = Optional.empty();
            } catch (IOException e) {
                giveUp();
            }
        }

        private void giveUp() {
            try {
                if (out.isPresent()) {
                    out.get().close();
                }
            } catch (IOException e) {
                // a full disk: the file goes anyway
            }
            out = Optional.empty();
            try {
                if (begun.isPresent()) {
                    Files.deleteIfExists(begun.get());
                }
            } catch (IOException e) {
                // it goes with all that is kept of this dump
            }
            begun = Optional.empty();
        }

        @Override
        public void close() {
            closed = true;
            rows.close();
            synchronized (this) {
                giveUp();
            }
        }
    }
}
