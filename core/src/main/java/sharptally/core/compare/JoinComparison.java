package sharptally.core.compare;

import java.util.ArrayDeque;
import java.util.List;
import java.util.Optional;
import java.util.Queue;
import sharptally.core.finding.FindingKind;
import sharptally.core.match.TableMatch;
import sharptally.core.place.JoinRequest;
import sharptally.core.place.Side;
import sharptally.core.range.Damage;
import sharptally.core.range.KeyRange;
import sharptally.core.range.RangeSum;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowSource;

/**
 * Compares a range of a match by letting the server join both tables: only rows that it holds distinct come here, each
 * beside its counterpart, and are compared as all others are. What it does not hand over is the same; how many rows that
 * are, is counted.
 */
final class JoinComparison {
    private JoinComparison() {}

    static JoinRequest request(TableMatch match, Pair places, KeyRange range) {
        return new JoinRequest(
                match.source().inSchema(places.source().ownSchema()),
                match.sourceColumns(),
                match.target().inSchema(places.target().ownSchema()),
                match.targetColumns(),
                match.pairs().size(),
                match.key(),
                range);
    }

    /**
     * @throws MovedOn when the sides changed while they were being joined, so that the counts do not fit
     */
    static Part compare(TableMatch match, Pair places, Stretch stretch, KeyRange range, PartKeeper.Sink sink) {
        Eligibility eligibility = new Eligibility(match, places.source(), places.target());
        var rows = places.ask(
                side -> (side == Side.SOURCE ? places.source() : places.target())
                        .sums(eligibility.countRequest(side, range))
                        .getOrDefault(0L, RangeSum.NOTHING)
                        .rows(),
                stretch.stopAsked());
        try (Split split = new Split(
                places.source().joined(request(match, places, range)),
                match.sourceColumns().size())) {
            Part part = stretch.merge(
                    stretch.cast(split.side(Side.SOURCE), Side.SOURCE),
                    stretch.cast(split.side(Side.TARGET), Side.TARGET),
                    sink,
                    true,
                    "joined");
            Counts distinct = part.counts();
            long both = distinct.same() + distinct.of(FindingKind.CHANGED);
            long ofSource = both + distinct.of(FindingKind.MISSING);
            long ofTarget = both + distinct.of(FindingKind.EXTRA);
            if (rows.source() - ofSource != rows.target() - ofTarget) {
                throw new MovedOn();
            }
            Counts handed = new Counts(ofSource, ofTarget, distinct.same(), distinct.findings(), distinct.perPair());
            Counts counts = Counts.allSame(
                            rows.source() - ofSource, match.pairs().size())
                    .plus(handed);
            long differing = ofSource + distinct.of(FindingKind.EXTRA) - distinct.same();
            var cell = new Damage.Cell(range.from(), rows.source() + distinct.of(FindingKind.EXTRA), differing);
            return new Part(counts, "joined", List.of(cell), List.of());
        }
    }

    /** Thrown when a range changed while it was being compared. */
    static final class MovedOn extends RuntimeException {
        MovedOn() {
            super("rows changed while they were joined", null, false, false);
        }
    }

    /** Rows of both sides that come beside each other, as two sources that are read in step. */
    private static final class Split implements AutoCloseable {
        private final RowSource joined;
        private final int sourceColumns;
        private final Queue<RowBatch> ofSource = new ArrayDeque<>();
        private final Queue<RowBatch> ofTarget = new ArrayDeque<>();

        Split(RowSource joined, int sourceColumns) {
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

        private void split(RowBatch batch) {
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
