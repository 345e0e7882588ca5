package sharptally.core.compare.stream;

import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import sharptally.core.place.Side;
import sharptally.core.range.KeyRange;
import sharptally.core.rows.CellOrder;
import sharptally.core.rows.Column;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowSource;
import sharptally.core.types.Value;

/**
 * Looks whether the rows that a database delivers for some ranges are in these ranges by our order. Databases are asked for
 * our order and not trusted with it: where one puts a key into another range than the other side does, the row would seem
 * missing in the one and extra in the other.
 */
final class RangeCheck implements RowSource {
    private final RowSource source;
    private final Side side;
    private final List<KeyRange> ranges;
    private final int[] key;
    private final boolean narrowing;
    private int range;

    /**
     * @param source batches as {@link CastingSource} makes them, in key order
     * @param ranges ascending; not empty
     * @param key places of the key among the compared columns
     * @param narrowing whether rows outside of the ranges are left out, rather than out of order
     */
    RangeCheck(RowSource source, Side side, List<KeyRange> ranges, int[] key, boolean narrowing) {
        this.source = source;
        this.side = side;
        this.ranges = ranges;
        this.key = key;
        this.narrowing = narrowing;
    }

    @Override
    public Optional<RowBatch> next() {
        Optional<RowBatch> batch = source.next();
        while (narrowing && batch.isPresent()) {
            RowBatch b = batch.get();
            int[] within = IntStream.range(0, b.rows())
                    .filter(row -> ranges.stream().anyMatch(r -> isWithin(b, row, r)))
                    .toArray();
            if (within.length == b.rows()) {
                return batch;
            } else if (within.length > 0) {
                return Optional.of(b.only(within));
            }
            batch = source.next();
        }
        batch.ifPresent(b -> {
            // Rows come in key order, which is checked elsewhere; so the ends of a batch tell of all within one range.
            int step = ranges.size() == 1 ? Math.max(1, b.rows() - 1) : 1;
            for (int row = 0; row < b.rows(); row += step) {
                check(b, row);
            }
        });
        return batch;
    }

    private void check(RowBatch batch, int row) {
        while (range < ranges.size() - 1 && !isBelow(batch, row, ranges.get(range))) {
            range++;
        }
        KeyRange now = ranges.get(range);
        if (!isWithin(batch, row, now)) {
            throw new OutOfOrder(side);
        }
    }

    private boolean isWithin(RowBatch batch, int row, KeyRange of) {
        return isBelow(batch, row, of) && compare(batch, row, of.from()) >= 0;
    }

    private boolean isBelow(RowBatch batch, int row, KeyRange of) {
        int c = of.to().isEmpty() ? -1 : compare(batch, row, of.to());
        return c < 0 || c == 0 && of.holdsOne();
    }

    /** Of a bound with fewer columns than the key, those alone count. */
    private int compare(RowBatch batch, int row, List<Value> bound) {
        for (int i = 0; i < bound.size(); i++) {
            Column cell = new Column(1);
            cell.add(bound.get(i));
            int c = CellOrder.compare(batch.compared(key[i]), row, cell, 0);
            if (c != 0) {
                return c;
            }
        }
        return 0;
    }

    @Override
    public void close() {
        source.close();
    }
}
