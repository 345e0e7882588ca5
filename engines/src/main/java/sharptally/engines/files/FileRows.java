package sharptally.engines.files;

import java.nio.file.Path;
import java.util.Arrays;
import java.util.Iterator;
import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;
import sharptally.core.rows.Column;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowCodec;
import sharptally.core.rows.RowSource;
import sharptally.engines.files.text.FileForm;
import sharptally.engines.files.text.FileKind;
import sharptally.engines.files.text.FileProblem;
import sharptally.engines.files.text.RowsOfFile;

/** The rows of a table, file by file. A file that changes meanwhile is an error once its end is reached. */
final class FileRows implements RowSource {
    private static final int MAX_ROWS_PER_BATCH = 2_048;
    private static final int MIN_ROWS_PER_BATCH = 16;
    private static final int CELLS_PER_BATCH = 1 << 17;
    private static final int MAX_BATCH_BYTES = 2 << 20;

    private final FileKind kind;
    private final FileForm form;
    private final Noting noting;
    private final List<String> wanted;
    private final boolean positions;
    private final long skip;
    private final OptionalLong limit;
    private final Iterator<Path> files;
    private Optional<Current> current = Optional.empty();
    private final int rowsPerBatch;
    private long passed;
    private volatile boolean closed;

    /** A file that is being read, and where in it which column stands. */
    private record Current(Path file, RowsOfFile rows, int[] fields, FileState state) {}

    /**
     * @param columns names of columns
     * @param positions whether a further column tells where each row stands
     * @param skip how many rows to pass over
     */
    record Wanted(List<String> columns, boolean positions, long skip, OptionalLong limit) {}

    /** Is told what is met on the way. */
    interface Noting {
        /** A record that is passed over. */
        void broken(String where);

        /** The next file. */
        default void opened(FileState file) {}

        /** The next row of the file. */
        default void at(RowsOfFile rows) {}
    }

    FileRows(FileKind kind, FileForm form, FileTable table, Wanted wanted, Noting noting) {
        this.kind = kind;
        this.form = form;
        this.noting = noting;
        this.wanted = wanted.columns;
        this.positions = wanted.positions;
        this.skip = wanted.skip;
        this.limit = wanted.limit;
        this.files = table.files().iterator();
        this.rowsPerBatch = Math.max(
                MIN_ROWS_PER_BATCH, Math.min(MAX_ROWS_PER_BATCH, CELLS_PER_BATCH / Math.max(1, this.wanted.size())));
    }

    @Override
    public synchronized Optional<RowBatch> next() {
        List<Column> batch = RowCodec.emptyColumns(wanted.size() + (positions ? 1 : 0), rowsPerBatch);
        int rows = 0;
        long bytes = 0;
        while (!closed && rows < rowsPerBatch && bytes < MAX_BATCH_BYTES && !isOver() && advance()) {
            if (passed++ < skip) {
                continue;
            }
            Current from = current.orElseThrow();
            bytes = 0;
            for (int i = 0; i < wanted.size(); i++) {
                from.rows.add(from.fields[i], batch.get(i));
                bytes += batch.get(i).arenaSize();
            }
            if (positions) {
                batch.get(wanted.size()).addText(from.file.getFileName() + ":" + from.rows.line());
            }
            rows++;
        }
        return rows == 0 ? Optional.empty() : Optional.of(new RowBatch(batch, rows));
    }

    private boolean isOver() {
        return limit.isPresent() && passed >= skip + limit.getAsLong();
    }

    private boolean advance() {
        while (true) {
            if (current.isEmpty()) {
                if (!files.hasNext()) {
                    return false;
                }
                current = Optional.of(open(files.next()));
            }
            Current from = current.get();
            if (from.rows.next()) {
                noting.at(from.rows);
                return true;
            }
            from.rows.broken().forEach(noting::broken);
            end(from);
            from.state.check();
        }
    }

    private Current open(Path file) {
        FileState state = FileState.of(file);
        noting.opened(state);
        RowsOfFile rows = kind.openRows(file, form);
        int[] fields = wanted.stream().mapToInt(rows.names()::indexOf).toArray();
        int missing = Arrays.stream(fields).boxed().toList().indexOf(-1);
        if (missing >= 0) {
            rows.close();
            throw FileProblem.of(
                    file,
                    "the file has no column " + wanted.get(missing) + ", which the first of its table has",
                    "files of one table have the same columns");
        }
        return new Current(file, rows, fields, state);
    }

    private void end(Current from) {
        current = Optional.empty();
        from.rows.close();
    }

    @Override
    public void close() {
        closed = true;
        synchronized (this) {
            current.ifPresent(this::end);
        }
    }
}
