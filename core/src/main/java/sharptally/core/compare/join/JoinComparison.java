package sharptally.core.compare.join;

import java.util.ArrayDeque;
import java.util.List;
import java.util.Optional;
import java.util.Queue;
import java.util.function.Function;
import sharptally.core.compare.Counts;
import sharptally.core.compare.Pair;
import sharptally.core.compare.RangeResult;
import sharptally.core.compare.stream.StreamComparison;
import sharptally.core.finding.FindingKind;
import sharptally.core.finding.FindingSink;
import sharptally.core.match.ColumnPair;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Side;
import sharptally.core.place.part.JoinRequest;
import sharptally.core.place.part.Joins;
import sharptally.core.range.DifferenceHistogram;
import sharptally.core.range.KeyRange;
import sharptally.core.rows.CellOrder;
import sharptally.core.rows.Column;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.ColumnShape;

/**
 * Compares a range of a match by letting the server join both tables: only rows that it holds distinct come here, each
 * beside its counterpart, and are compared as all others are. What it does not hand over is the same; how many rows that
 * are, is counted.
 */
public final class JoinComparison {
    private JoinComparison() {}

    /**
     * Every table by its full name, as it goes over the connection that is asked.
     *
     * @param joins over whose connection the server is asked
     */
    public static JoinRequest request(TableMatch match, Joins joins, Pair places, KeyRange range) {
        return new JoinRequest(
                joins.reached(places.source(), match.source()),
                match.readColumns(Side.SOURCE),
                joins.reached(places.target(), match.target()),
                match.readColumns(Side.TARGET),
                match.pairs().size(),
                match.key(),
                range);
    }

    /**
     * @param joins over whose connection the server is asked
     * @throws MovedOn when the sides changed while they were being joined, so that the counts do not fit
     */
    public static RangeResult compare(
            TableMatch match, JoinRequest request, Joins joins, StreamComparison stretch, FindingSink sink) {
        KeyRange range = request.range();
        long sourceRows = joins.rows(request.source(), key(match, ColumnPair::source), range);
        long targetRows = joins.rows(request.target(), key(match, ColumnPair::target), range);
        try (Split split = new Split(
                joins.joined(request),
                match.readColumns(Side.SOURCE).size(),
                match.key().stream().mapToInt(i -> i).toArray())) {
            RangeResult part = stretch.merge(
                    stretch.cast(split.side(Side.SOURCE), Side.SOURCE),
                    stretch.cast(split.side(Side.TARGET), Side.TARGET),
                    sink,
                    true,
                    "joined");
            Counts distinct = part.counts();
            long both = distinct.same() + distinct.of(FindingKind.CHANGED);
            long ofSource = both + distinct.of(FindingKind.MISSING);
            long ofTarget = both + distinct.of(FindingKind.EXTRA);
            if (sourceRows - ofSource != targetRows - ofTarget) {
                throw new MovedOn();
            }
            Counts handed = new Counts(ofSource, ofTarget, distinct.same(), distinct.findings(), distinct.perPair());
            Counts counts =
                    Counts.allSame(sourceRows - ofSource, match.pairs().size()).plus(handed);
            long differing = ofSource + distinct.of(FindingKind.EXTRA) - distinct.same();
            var cell =
                    new DifferenceHistogram.Cell(range.from(), sourceRows + distinct.of(FindingKind.EXTRA), differing);
            return new RangeResult(counts, "joined", List.of(cell), List.of());
        }
    }

    private static List<ColumnShape> key(TableMatch match, Function<ColumnPair, ColumnShape> side) {
        return match.keyPairs().stream().map(side).toList();
    }

    /** Thrown when what came of the join is not what comes of rows of which each has a key of its own. */
    public static final class MovedOn extends RuntimeException {
        public MovedOn() {
            super("rows changed while they were joined, or a key is repeated", null, false, false);
        }
    }

    /** Rows of both sides that come beside each other, as two sources that are read in step. */
    private static final class Split implements AutoCloseable {
        private final RowSource joined;
        private final int sourceColumns;
        private final int[] key;
        private RowBatch before = new RowBatch(List.of(), 0);
        private final Queue<RowBatch> ofSource = new ArrayDeque<>();
        private final Queue<RowBatch> ofTarget = new ArrayDeque<>();

        /**
         * @param key places of the key among the columns of either side
         */
        Split(RowSource joined, int sourceColumns, int[] key) {
            this.key = key;
            this.joined = joined;
            this.sourceColumns = sourceColumns;
        }

        RowSource side(Side side) {
            return new RowSource() {
                @Override
                public Optional<RowBatch> next() {
                    Queue<RowBatch> waiting = side == Side.SOURCE ? ofSource : ofTarget;
                    if (waiting.isEmpty()) {
                        joined.next().ifPresent(Split.this::split);
                    }
                    return Optional.ofNullable(waiting.poll());
                }

                @Override
                public void close() {
                    // both sides are closed with what they are read from
                }
            };
        }

        /** A column of the key, of the side that has the row. */
        private Column key(RowBatch batch, int row, int column) {
            Column source = batch.column(column);
            return source.isNull(row) ? batch.column(sourceColumns + column) : source;
        }

        /** Rows come in the order of the key, so that those of one key stand beside each other. */
        private void checkKeys(RowBatch batch) {
            for (int row = 0; row < batch.rows(); row++) {
                RowBatch last = row > 0 ? batch : before;
                int lastRow = (row > 0 ? row : last.rows()) - 1;
                boolean same = lastRow >= 0;
                for (int i = 0; same && i < key.length; i++) {
                    same = CellOrder.same(key(last, lastRow, key[i]), lastRow, key(batch, row, key[i]), row);
                }
                if (same) {
                    throw new MovedOn();
                }
            }
            before = batch;
        }

        private void split(RowBatch batch) {
            checkKeys(batch);
            int all = batch.columns().size();
            ofSource.add(new RowBatch(batch.columns().subList(0, sourceColumns), batch.rows()));
            ofTarget.add(new RowBatch(batch.columns().subList(sourceColumns, all), batch.rows()));
        }

        @Override
        public void close() {
            joined.close();
        }
    }
}
