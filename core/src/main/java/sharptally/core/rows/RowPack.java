package sharptally.core.rows;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.Iterator;
import java.util.List;
import java.util.Optional;

/** Rows as bytes, to be sent elsewhere, and to be read there in the same form. Used by one thread. */
public final class RowPack {
    private static final int ROWS_PER_BATCH = 2_048;
    private static final long BYTES_PER_BATCH = 4L << 20;

    private final RowBytes bytes = new RowBytes();

    /** Adds a row of some columns. */
    public void add(List<Column> columns, int row) {
        RowCodec.write(columns, row, bytes);
    }

    /** How many bytes the rows take. */
    public int size() {
        return bytes.filled();
    }

    /** The bytes of all rows so far; the pack is empty afterwards. */
    public byte[] take() {
        return bytes.take();
    }

    /**
     * The rows of some packs, one pack after the other.
     *
     * @param columns how many columns the rows have
     */
    public static RowSource rows(Iterator<byte[]> packs, int columns) {
        return new RowSource() {
            private RowIn in = RowIn.of(new byte[0]);
            private volatile boolean closed;

            @Override
            public Optional<RowBatch> next() {
                List<Column> into = RowCodec.emptyColumns(columns, ROWS_PER_BATCH);
                int rows = 0;
                try {
                    while (!closed && rows < ROWS_PER_BATCH && bytes(into, rows) < BYTES_PER_BATCH) {
                        if (in.hasMore()) {
                            RowCodec.read(in, into);
                            rows++;
                        } else if (packs.hasNext()) {
                            in = RowIn.of(packs.next());
                        } else {
                            break;
                        }
                    }
                } catch (IOException e) {
                    throw new UncheckedIOException(e);
                }
                return rows == 0 ? Optional.empty() : Optional.of(new RowBatch(into, rows));
            }

            @Override
            public void close() {
                closed = true;
            }
        };
    }

    /** Looked at now and then. */
    private static long bytes(List<Column> columns, int rows) {
        return rows % 64 == 0 ? columns.stream().mapToLong(Column::arenaSize).sum() : 0;
    }
}
