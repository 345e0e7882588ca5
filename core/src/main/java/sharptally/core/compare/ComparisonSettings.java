package sharptally.core.compare;

import java.util.Optional;
import sharptally.core.compare.stream.Sample;
import sharptally.core.range.KeyRange;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.Value;

/**
 * How a match is to be compared.
 *
 * @param keys only the rows in this range of the key
 * @param rowsPerRange about how many rows a range has that is compared, and finished, by itself
 * @param workers how many ranges are compared at once, each over a connection of its own per side
 * @param changedSince only rows that either side has changed since then; empty for all
 * @param sample which rows are chosen; empty for all
 */
public record ComparisonSettings(
        Method method,
        KeyRange keys,
        long rowsPerRange,
        int workers,
        Optional<Since> changedSince,
        Optional<Sample> sample) {
    /** Only rows that hold at least some value in a column, on either side. */
    public record Since(ColumnShape source, ColumnShape target, Value ofSource, Value ofTarget) {}

    /** The same by another method. */
    public ComparisonSettings by(Method other) {
        return new ComparisonSettings(other, keys, rowsPerRange, workers, changedSince, sample);
    }

    public static final long ROWS_PER_RANGE = 1_000_000;

    /** All rows, as fast as may be. */
    public static final ComparisonSettings DEFAULT =
            new ComparisonSettings(Method.AUTO, KeyRange.ALL, ROWS_PER_RANGE, 1, Optional.empty(), Optional.empty());
}
