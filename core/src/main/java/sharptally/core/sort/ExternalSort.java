package sharptally.core.sort;

import java.io.BufferedInputStream;
import java.io.BufferedOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.PriorityQueue;
import java.util.function.Function;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.rows.CellOrder;
import sharptally.core.rows.Column;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowCodec;
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
    private static final int BYTES_PER_CELL = 13;

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
        List<RowBatch> chunk = new ArrayList<>();
        long bytes = 0;
        for (Optional<RowBatch> batch = source.next(); batch.isPresent(); batch = source.next()) {
            chunk.add(batch.get());
            columnCount = batch.get().columns().size();
            bytes += sizeOf(batch.get());
            if (bytes >= maxChunkBytes) {
                spill(chunk);
                chunk.clear();
                bytes = 0;
            }
        }
        if (!chunk.isEmpty()) {
            spill(chunk);
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

    private static long sizeOf(RowBatch batch) {
        long bytes = 0;
        for (Column column : batch.columns()) {
            bytes += column.arenaSize() + (long) batch.rows() * BYTES_PER_CELL;
        }
        return bytes;
    }

    private void spill(List<RowBatch> chunk) throws IOException {
        List<List<Column>> order = chunk.stream().map(orderColumns).toList();
        int rows = chunk.stream().mapToInt(RowBatch::rows).sum();
        Long[] places = new Long[rows];
        int filled = 0;
        for (int b = 0; b < chunk.size(); b++) {
            for (int row = 0; row < chunk.get(b).rows(); row++) {
                places[filled++] = (long) b << 32 | row;
            }
        }
        Arrays.sort(
                places,
                (one, other) -> compare(
                        order.get((int) (one >> 32)),
                        one.intValue(),
                        order.get((int) (other >> 32)),
                        other.intValue()));
        try (var out = new DataOutputStream(new BufferedOutputStream(
                // Not one that is made: the file may be gone by now.
                Files.newOutputStream(newFile(), StandardOpenOption.WRITE), 1 << 16))) {
            for (Long place : places) {
                RowCodec.write(chunk.get((int) (place >> 32)).columns(), place.intValue(), out);
            }
        }
    }

    private static int compare(List<Column> one, int row, List<Column> other, int otherRow) {
        for (int i = 0; i < one.size(); i++) {
            int c = CellOrder.compare(one.get(i), row, other.get(i), otherRow);
            if (c != 0) {
                return c;
            }
        }
        return 0;
    }

    private Optional<RowBatch> merged() throws IOException {
        List<Column> out = RowCodec.emptyColumns(columnCount, ROWS_PER_BATCH);
        int rows = 0;
        while (rows < ROWS_PER_BATCH && !runs.isEmpty()) {
            Run run = runs.poll();
            for (int c = 0; c < columnCount; c++) {
                out.get(c).addCellOf(run.batch.column(c), run.row);
            }
            rows++;
            if (run.advance()) {
                runs.add(run);
            }
        }
        return rows == 0 ? Optional.empty() : Optional.of(new RowBatch(out, rows));
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
        private final DataInputStream in;
        private final int number;
        private RowBatch batch = new RowBatch(List.of(), 0);
        private List<Column> order = List.of();
        private int row;

        Run(Path file, int number) throws IOException {
            this.in = new DataInputStream(new BufferedInputStream(Files.newInputStream(file), 1 << 16));
            this.number = number;
        }

        boolean load() throws IOException {
            List<Column> columns = RowCodec.emptyColumns(columnCount, ROWS_PER_RUN_BATCH);
            int rows = 0;
            while (rows < ROWS_PER_RUN_BATCH && hasMore()) {
                RowCodec.read(in, columns);
                rows++;
            }
            row = 0;
            batch = new RowBatch(columns, rows);
            order = orderColumns.apply(batch);
            return rows > 0;
        }

        private boolean hasMore() throws IOException {
            in.mark(1);
            int b = in.read();
            in.reset();
            return b >= 0;
        }

        boolean advance() throws IOException {
            row++;
            return row < batch.rows() || load();
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
            int c = ExternalSort.compare(order, row, other.order, other.row);
            return c != 0 ? c : Integer.compare(number, other.number);
        }
    }
}
