package sharptally.core.compare;

import java.util.Optional;
import sharptally.core.compare.checksum.Known;
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
 * @param known what an earlier comparison of the same rows found, for a method that can tell whether that still holds
 */
public record ComparisonSettings(
        Method method,
        KeyRange keys,
        long rowsPerRange,
        int workers,
        Optional<Since> changedSince,
        Optional<Sample> sample,
        Optional<Known> known) {
    /** Only rows that hold at least some value in a column, on either side. */
    public record Since(ColumnShape source, ColumnShape target, Value ofSource, Value ofTarget) {}

    /** The same by another method. */
    public ComparisonSettings by(Method other) {
        return new ComparisonSettings(other, keys, rowsPerRange, workers, changedSince, sample, known);
    }

    /** Of which nothing is known beforehand. */
    public ComparisonSettings(
            Method method,
            KeyRange keys,
            long rowsPerRange,
            int workers,
            Optional<Since> changedSince,
            Optional<Sample> sample) {
        this(method, keys, rowsPerRange, workers, changedSince, sample, Optional.empty());
    }

    /** The same, of which an earlier comparison tells. */
    public ComparisonSettings knowing(Optional<Known> earlier) {
        return new ComparisonSettings(method, keys, rowsPerRange, workers, changedSince, sample, earlier);
    }

    public static final long ROWS_PER_RANGE = 1_000_000;

    /** All rows, as fast as may be. */
    public static final ComparisonSettings DEFAULT =
            new ComparisonSettings(Method.AUTO, KeyRange.ALL, ROWS_PER_RANGE, 1, Optional.empty(), Optional.empty());
}
