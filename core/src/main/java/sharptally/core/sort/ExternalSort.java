package sharptally.core.sort;

import java.io.BufferedOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.PriorityQueue;
import java.util.function.Function;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.rows.Column;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowBytes;
import sharptally.core.rows.RowCodec;
import sharptally.core.rows.RowIn;
import sharptally.core.rows.RowSource;

/**
 * Rows of a source in the order of some of their columns, sorted on this side in bounded memory.
 *
 * <p>Rows are gathered until they reach a limit of bytes, sorted, and written to a temporary file as one run; the runs
 * are then merged. Cost: every row is written and read once. Memory: one chunk while gathering, one small batch per run
 * while merging. The files are readable by their owner only and are removed on close, which another thread than the
 * reading one may ask for, at any moment: whatever is being written then goes as well.
 */
public final class ExternalSort implements RowSource {
    private static final int ROWS_PER_BATCH = 2_048;
    private static final int ROWS_PER_RUN_BATCH = 256;
    private static final int READ_BYTES = 1 << 16;
    private static final int WRITE_BYTES = 1 << 18;

    private final RowSource source;
    private final Function<RowBatch, List<Column>> orderColumns;
    private final long maxChunkBytes;
    private final Path folder;
    private final List<Path> files = new ArrayList<>();
    private final PriorityQueue<Run> runs = new PriorityQueue<>();
    private final List<Run> openRuns = new ArrayList<>();
    private boolean closed;
    private int columnCount;
    private boolean sorted;
    private Optional<Chunk> whole = Optional.empty();
    private int handedOut;

    /**
     * @param orderColumns the columns to sort by, made from a batch; NULL first, as {@link CellOrder} has it
     * @param maxChunkBytes rows held in memory at once, in bytes, roughly
     * @param folder where the files go
     */
    public ExternalSort(
            RowSource source, Function<RowBatch, List<Column>> orderColumns, long maxChunkBytes, Path folder) {
        this.source = source;
        this.orderColumns = orderColumns;
        this.maxChunkBytes = maxChunkBytes;
        this.folder = folder;
    }

    @Override
    public Optional<RowBatch> next() {
        try {
            if (!sorted) {
                gather();
                sorted = true;
            }
            return merged();
        } catch (IOException e) {
            throw new ToolException(
                    ErrorKind.INCOMPLETE,
                    "can't sort rows on disk",
                    folder + ": " + e.getMessage(),
                    "make room there, or choose another temporary folder",
                    e);
        }
    }

    private void gather() throws IOException {
        List<RowBytes> chunk = new ArrayList<>();
        List<List<Column>> order = new ArrayList<>();
        long bytes = 0;
        for (Optional<RowBatch> batch = source.next(); batch.isPresent(); batch = source.next()) {
            columnCount = batch.get().columns().size();
            chunk.add(new RowBytes(batch.get()));
            order.add(orderColumns.apply(batch.get()));
            bytes += chunk.get(chunk.size() - 1).size();
            if (bytes >= maxChunkBytes) {
                spill(new Chunk(chunk, order));
                chunk.clear();
                order.clear();
                bytes = 0;
            }
        }
        if (written().isEmpty()) {
            // All of it is here: nothing needs to be written.
            whole = Optional.of(new Chunk(chunk, order));
            return;
        }
        if (!chunk.isEmpty()) {
            spill(new Chunk(chunk, order));
        }
        for (Path file : written()) {
            Run run = open(file);
            if (run.load()) {
                runs.add(run);
            }
        }
    }

    private synchronized List<Path> written() {
        return List.copyOf(files);
    }

    private synchronized Run open(Path file) throws IOException {
        checkOpen();
        Run run = new Run(file, openRuns.size());
        openRuns.add(run);
        return run;
    }

    private synchronized Path newFile() throws IOException {
        checkOpen();
        Path file = Files.createTempFile(folder, "sharp-tally-sort-", ".rows");
        files.add(file);
        return file;
    }

    private void checkOpen() throws IOException {
        if (closed) {
            throw new IOException("nobody reads these rows any more");
        }
    }

    private void spill(Chunk chunk) throws IOException {
        try (OutputStream out = new BufferedOutputStream(
                // Not one that is made: the file may be gone by now.
                Files.newOutputStream(newFile(), StandardOpenOption.WRITE), WRITE_BYTES)) {
            for (int i = 0; i < chunk.rows(); i++) {
                chunk.batch(i).writeTo(out, chunk.row(i));
            }
        }
    }

    private Optional<RowBatch> merged() throws IOException {
        if (whole.isPresent()) {
            return fromMemory(whole.get());
        }
        List<Column> out = RowCodec.emptyColumns(columnCount, ROWS_PER_BATCH);
        int rows = 0;
        while (rows < ROWS_PER_BATCH && !runs.isEmpty()) {
            Run run = runs.poll();
            // Rows of a run that come before those of all others need not be put back among them.
            boolean more = true;
            do {
                for (int c = 0; c < columnCount; c++) {
                    out.get(c).addCellOf(run.columns.get(c), run.row);
                }
                rows++;
                more = run.advance();
            } while (more && rows < ROWS_PER_BATCH && (runs.isEmpty() || run.compareTo(runs.element()) < 0));
            if (more) {
                runs.add(run);
            }
        }
        return rows == 0 ? Optional.empty() : Optional.of(new RowBatch(out, rows));
    }

    private Optional<RowBatch> fromMemory(Chunk chunk) throws IOException {
        int rows = Math.min(ROWS_PER_BATCH, chunk.rows() - handedOut);
        if (rows <= 0) {
            whole = Optional.of(Chunk.NOTHING);
            handedOut = 0;
            return Optional.empty();
        }
        List<Column> out = RowCodec.emptyColumns(columnCount, rows);
        for (int i = handedOut; i < handedOut + rows; i++) {
            RowBytes batch = chunk.batch(i);
            batch.read(batch.reader(), chunk.row(i), out);
        }
        handedOut += rows;
        return Optional.of(new RowBatch(out, rows));
    }

    @Override
    public void close() {
        try {
            source.close();
        } finally {
            removeFiles();
        }
    }

    private synchronized void removeFiles() {
        closed = true;
        for (Run run : openRuns) {
            run.close();
        }
        for (Path file : files) {
            try {
                Files.deleteIfExists(file);
            } catch (IOException e) {
                file.toFile().deleteOnExit();
            }
        }
        files.clear();
    }

    /** One sorted file, read a small batch at a time. Ties go to the earlier run, so that the sort is stable. */
    private final class Run implements Comparable<Run> {
        private final RowIn in;
        private final int number;
        private List<Column> columns = List.of();
        private List<Column> order = List.of();
        private long[] prefixes = new long[0];
        private int rows;
        private int row;

        Run(Path file, int number) throws IOException {
            this.in = new RowIn(Files.newInputStream(file), READ_BYTES);
            this.number = number;
        }

        boolean load() throws IOException {
            columns = RowCodec.emptyColumns(columnCount, ROWS_PER_RUN_BATCH);
            rows = 0;
            while (rows < ROWS_PER_RUN_BATCH && in.hasMore()) {
                RowCodec.read(in, columns);
                rows++;
            }
            row = 0;
            order = orderColumns.apply(new RowBatch(columns, rows));
            prefixes = Chunk.prefixes(order, rows);
            return rows > 0;
        }

        boolean advance() throws IOException {
            row++;
            return row < rows || load();
        }

        void close() {
            try {
                in.close();
            } catch (IOException e) {
                throw new ToolException(ErrorKind.BUG, "can't close a sort file", e.toString(), "", e);
            }
        }

        @Override
        public int compareTo(Run other) {
            int c = Long.compare(prefixes[row], other.prefixes[other.row]);
            c = c != 0 ? c : Chunk.compare(order, row, other.order, other.row);
            return c != 0 ? c : Integer.compare(number, other.number);
        }
    }
}
