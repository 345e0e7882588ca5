package sharptally.core.compare.run;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import sharptally.core.compare.Counts;
import sharptally.core.compare.Pair;
import sharptally.core.compare.PartKeeper;
import sharptally.core.compare.RangeResult;
import sharptally.core.compare.stream.StreamComparison;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Place;
import sharptally.core.place.ReadRequest;
import sharptally.core.place.Side;
import sharptally.core.range.DifferenceHistogram;
import sharptally.core.range.KeyRange;
import sharptally.core.rows.KeyOrder;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;
import sharptally.core.types.Value;

/**
 * Compares the rows whose keys either side tells of: the keys of both are merged, and the rows of each are read from both
 * sides, whatever else they hold. So a row that only one side has brought up to date is compared with its counterpart.
 */
final class ChangedRows {
    private static final int KEYS_PER_QUERY = 500;

    private final TableMatch match;
    private final Pair places;
    private final TableShape source;
    private final TableShape target;

    /**
     * @param source the source with only the rows whose keys are wanted
     * @param target the same of the target
     */
    ChangedRows(TableMatch match, Pair places, TableShape source, TableShape target) {
        this.match = match;
        this.places = places;
        this.source = source;
        this.target = target;
    }

    RangeResult compare(KeyRange within, StreamComparison stretch, PartKeeper.Sink sink) {
        List<RangeResult> parts = new ArrayList<>();
        List<KeyRange> batch = new ArrayList<>();
        eachKey(within, key -> {
            batch.add(KeyRange.only(key));
            if (batch.size() == KEYS_PER_QUERY) {
                parts.add(stretch.merge(batch, sink));
                batch.clear();
            }
        });
        if (!batch.isEmpty()) {
            parts.add(stretch.merge(batch, sink));
        }
        return joined(match, parts);
    }

    /** Parts of the key, in order, as one. */
    static RangeResult joined(TableMatch match, List<RangeResult> parts) {
        List<DifferenceHistogram.Cell> cells =
                parts.stream().flatMap(p -> p.damage().stream()).toList();
        Counts counts = parts.stream()
                .map(RangeResult::counts)
                .reduce(Counts::plus)
                .orElseGet(() -> Counts.allSame(0, match.pairs().size()));
        return new RangeResult(counts, "by key", DifferenceHistogram.condensed(cells, 240), List.of());
    }

    /** Every key of either side once, in order. */
    private void eachKey(KeyRange within, Consumer<List<Value>> to) {
        try (RowSource ofSource = keys(places.source(), source, Side.SOURCE, within);
                RowSource ofTarget = keys(places.target(), target, Side.TARGET, within)) {
            Keys one = new Keys(ofSource);
            Keys other = new Keys(ofTarget);
            while (one.key.isPresent() || other.key.isPresent()) {
                int c = one.key.isEmpty()
                        ? 1
                        : other.key.isEmpty() ? -1 : KeyOrder.ASCENDING.compare(one.key.get(), other.key.get());
                to.accept((c <= 0 ? one.key : other.key).orElseThrow());
                if (c <= 0) {
                    one.advance();
                }
                if (c >= 0) {
                    other.advance();
                }
            }
        }
    }

    private RowSource keys(Place place, TableShape table, Side side, KeyRange within) {
        List<ColumnShape> key = match.keyPairs().stream()
                .map(p -> side == Side.SOURCE ? p.source() : p.target())
                .toList();
        return place.read(new ReadRequest(table, key, key).within(within.holdsAll() ? List.of() : List.of(within)));
    }

    /** Steps through keys, each of them once. */
    private static final class Keys {
        private final RowSource rows;
        private Optional<RowBatch> batch = Optional.empty();
        private int row;
        private Optional<List<Value>> key = Optional.empty();

        Keys(RowSource rows) {
            this.rows = rows;
            advance();
        }

        void advance() {
            Optional<List<Value>> before = key;
            do {
                row++;
                if (batch.isEmpty() || row >= batch.get().rows()) {
                    batch = rows.next();
                    row = 0;
                }
                key = batch.map(b -> b.row(row));
            } while (key.isPresent() && key.equals(before));
        }
    }
}
