package sharptally.core.range;

/**
 * What one side holds in one range.
 *
 * @param rows how many rows
 * @param sum the sum of their hashes, modulo 2^64
 */
public record RangeSum(long rows, long sum) {
    public static final RangeSum NOTHING = new RangeSum(0, 0);

    /** Of two ranges together. */
    public RangeSum plus(RangeSum other) {
        return new RangeSum(rows + other.rows, sum + other.sum);
    }

    /** The checksum in sixteen hexadecimal digits. */
    public String hex() {
        return String.format("%016x", sum);
    }
}
