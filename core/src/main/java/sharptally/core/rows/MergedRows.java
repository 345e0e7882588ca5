package sharptally.core.rows;

import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.PriorityQueue;
import sharptally.core.fault.Closing;

/**
 * The rows of several sources as those of one: merged by columns in whose order each of them comes, or one source after the
 * other. Sources that do not keep the order make rows that do not keep it. Used by one thread; another one may close it.
 */
public final class MergedRows implements RowSource {
    private static final int ROWS_PER_BATCH = 1024;
    private static final long BYTES_PER_BATCH = 4 << 20;

    private final List<RowSource> sources;
    private final int[] order;
    private final PriorityQueue<Head> heads;
    private boolean begun;
    private int next;

    /** The next row of one source; of equal ones, the one of the earlier source comes first. */
    private static final class Head {
        private final int source;
        private RowBatch batch;
        private int row;

        Head(int source, RowBatch batch) {
            this.source = source;
            this.batch = batch;
        }
    }

    /**
     * @param order places of the columns by which all are ordered; none to take one source after the other
     */
    public MergedRows(List<RowSource> sources, int[] order) {
        this.sources = List.copyOf(sources);
        this.order = order.clone();
        this.heads = new PriorityQueue<>(
                Math.max(1, sources.size()), ((Comparator<Head>) this::compare).thenComparingInt(head -> head.source));
    }

    private int compare(Head one, Head other) {
        for (int column : order) {
            int c = CellOrder.compare(one.batch.column(column), one.row, other.batch.column(column), other.row);
            if (c != 0) {
                return c;
            }
        }
        return 0;
    }

    @Override
    public Optional<RowBatch> next() {
        return order.length == 0 ? oneAfterTheOther() : merged();
    }

    private Optional<RowBatch> oneAfterTheOther() {
        while (next < sources.size()) {
            Optional<RowBatch> batch = sources.get(next).next();
            if (batch.isPresent()) {
                return batch;
            }
            next++;
        }
        return Optional.empty();
    }

    private Optional<RowBatch> merged() {
        if (!begun) {
            begun = true;
            for (int i = 0; i < sources.size(); i++) {
                int source = i;
                sources.get(i).next().ifPresent(batch -> heads.add(new Head(source, batch)));
            }
        }
        Head first = heads.peek();
        if (first == null) {
            return Optional.empty();
        }
        if (heads.size() == 1 && first.row == 0) {
            RowBatch whole = first.batch;
            heads.clear();
            refill(first);
            return Optional.of(whole);
        }
        List<Column> columns = RowCodec.emptyColumns(first.batch.columns().size(), ROWS_PER_BATCH);
        int rows = 0;
        long bytes = 0;
        while (rows < ROWS_PER_BATCH && bytes < BYTES_PER_BATCH && !heads.isEmpty()) {
            Head head = heads.poll();
            List<Column> from = head.batch.columns();
            bytes = 0;
            for (int i = 0; i < columns.size(); i++) {
                columns.get(i).addCellOf(from.get(i), head.row);
                bytes += columns.get(i).arenaSize();
            }
            rows++;
            if (++head.row == head.batch.rows()) {
                refill(head);
            } else {
                heads.add(head);
            }
        }
        return Optional.of(new RowBatch(columns, rows));
    }

    private void refill(Head head) {
        sources.get(head.source).next().ifPresent(batch -> {
            head.batch = batch;
            head.row = 0;
            heads.add(head);
        });
    }

    @Override
    public void close() {
        Closing.all(sources, RowSource::close);
    }
}
