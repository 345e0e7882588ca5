package sharptally.engines.files;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import sharptally.core.rows.Cast;
import sharptally.core.rows.CellOrder;
import sharptally.core.rows.Column;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.RowFilter;
import sharptally.core.types.Value;

/** Rows of files as they are wanted: read as the types that the other side gives them, and only those that are meant. */
final class FilteredRows implements RowSource {
    private final RowSource rows;
    private final List<Optional<Cast>> casts;
    private final List<Test> tests;
    private final Optional<Chosen> chosen;
    private final int[] wanted;
    private final Limit limit;
    private long row;
    private long passed;

    /**
     * @param skip how many of the rows that are meant to pass over
     * @param limit how many of them to hand out
     */
    record Limit(long skip, OptionalLong limit) {}

    /**
     * Rows that were chosen beforehand.
     *
     * @param rows by their number from 0
     * @param unchanged throws where they were chosen of other files than those that are read now
     */
    record Chosen(BitSet rows, Runnable unchanged) {}

    /** A filter and its column's place. */
    private record Test(int column, RowFilter filter, Column values) {
        boolean holds(Column cells, int row) {
            if (filter instanceof RowFilter.Null asked) {
                return cells.isNull(row) != asked.held();
            }
            if (filter instanceof RowFilter.Partition partition) {
                return (cells.isNull(row) ? partition.nulls() : isWithin(partition, cells, row)) != partition.others();
            }
            return !cells.isNull(row)
                    && ((RowFilter.Compared) filter).comparison().holds(CellOrder.compare(cells, row, values, 0));
        }

        private boolean isWithin(RowFilter.Partition partition, Column cells, int row) {
            int end = 0;
            for (RowFilter.Span span : partition.spans()) {
                boolean above = span.from().isEmpty()
                        || RowFilter.Comparison.AT_LEAST.holds(CellOrder.compare(cells, row, values, end++));
                boolean below = span.to().isEmpty() || span.end().holds(CellOrder.compare(cells, row, values, end++));
                if (above && below) {
                    return true;
                }
            }
            return false;
        }

        private static Column values(RowFilter filter) {
            if (filter instanceof RowFilter.Partition partition) {
                List<Value> ends = partition.spans().stream()
                        .flatMap(span -> Stream.concat(span.from().stream(), span.to().stream()))
                        .toList();
                Column column = new Column(Math.max(1, ends.size()));
                ends.forEach(column::add);
                return column;
            }
            Column column = new Column(1);
            if (filter instanceof RowFilter.Compared compared) {
                column.add(compared.value());
            }
            return column;
        }
    }

    /**
     * @param columns what is read
     * @param chosen which rows of all are meant
     * @param wanted which of the columns are handed out, in their order
     */
    FilteredRows(
            RowSource rows,
            List<ColumnShape> columns,
            List<RowFilter> filters,
            Optional<Chosen> chosen,
            List<ColumnShape> wanted,
            Limit limit) {
        this.rows = rows;
        this.casts = columns.stream()
                .map(c -> Cast.ofWriting(c.type().orElseThrow()))
                .toList();
        this.tests = filters.stream().map(f -> test(f, columns)).toList();
        this.chosen = chosen;
        this.wanted = wanted.stream().mapToInt(columns::indexOf).toArray();
        this.limit = limit;
    }

    static ColumnShape column(RowFilter filter) {
        if (filter instanceof RowFilter.Null asked) {
            return asked.column();
        }
        return filter instanceof RowFilter.Partition partition
                ? partition.column()
                : ((RowFilter.Compared) filter).column();
    }

    private static Test test(RowFilter filter, List<ColumnShape> columns) {
        return new Test(columns.indexOf(column(filter)), filter, Test.values(filter));
    }

    @Override
    public Optional<RowBatch> next() {
        while (limit.limit().isEmpty() || passed < limit.skip() + limit.limit().getAsLong()) {
            Optional<RowBatch> batch = rows.next();
            if (batch.isEmpty()) {
                chosen.ifPresent(rows -> rows.unchanged().run());
                return batch;
            }
            RowBatch typed = typed(batch.get());
            int[] meant = IntStream.range(0, typed.rows())
                    .filter(i -> isMeant(typed, i))
                    .toArray();
            row += typed.rows();
            if (meant.length > 0) {
                RowBatch handed = meant.length == typed.rows() ? typed : typed.only(meant);
                return Optional.of(new RowBatch(
                        IntStream.of(wanted).mapToObj(handed::column).toList(), handed.rows()));
            }
        }
        return Optional.empty();
    }

    private boolean isMeant(RowBatch batch, int i) {
        if (chosen.isPresent() && !chosen.get().rows().get(Math.toIntExact(row + i))) {
            return false;
        }
        for (Test test : tests) {
            if (!test.holds(batch.column(test.column), i)) {
                return false;
            }
        }
        passed++;
        return passed > limit.skip()
                && (limit.limit().isEmpty()
                        || passed <= limit.skip() + limit.limit().getAsLong());
    }

    private RowBatch typed(RowBatch batch) {
        List<Column> columns = new ArrayList<>();
        for (int i = 0; i < casts.size(); i++) {
            Column read = batch.column(i);
            columns.add(casts.get(i).map(c -> c.apply(read)).orElse(read));
        }
        return new RowBatch(columns, batch.rows());
    }

    @Override
    public void close() {
        rows.close();
    }
}
