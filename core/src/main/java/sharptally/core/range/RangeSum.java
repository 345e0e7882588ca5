package sharptally.core.range;

import java.util.Locale;

/**
 * What one side holds in one range.
 *
 * @param rows how many rows
 * @param sum the sum of their hashes, modulo 2^64
 * @param unhashed of how many rows the database could work out no hash; they are not in the sum, which proves nothing then
 */
public record RangeSum(long rows, long sum, long unhashed) {
    public static final RangeSum NOTHING = new RangeSum(0, 0, 0);

    /** Of rows that all have a hash. */
    public RangeSum(long rows, long sum) {
        this(rows, sum, 0);
    }

    /** Whether two sides hold the same rows: as many, with the same sum, and none that is not in it. */
    public boolean proves(RangeSum other) {
        return unhashed == 0 && equals(other);
    }

    /** Of two ranges together. */
    public RangeSum plus(RangeSum other) {
        return new RangeSum(rows + other.rows, sum + other.sum, unhashed + other.unhashed);
    }

    /** The checksum in sixteen hexadecimal digits. */
    public String hex() {
        return String.format(Locale.ROOT, "%016x", sum);
    }
}
