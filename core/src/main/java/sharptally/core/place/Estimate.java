package sharptally.core.place;

import java.util.OptionalLong;

/**
 * About how large a table is.
 *
 * @param bytes on disk, indexes included
 */
public record Estimate(OptionalLong rows, OptionalLong bytes) {
    public static final Estimate UNKNOWN = new Estimate(OptionalLong.empty(), OptionalLong.empty());

    public static Estimate ofRows(long rows) {
        return new Estimate(OptionalLong.of(rows), OptionalLong.empty());
    }

    public static Estimate of(long rows, long bytes) {
        return new Estimate(OptionalLong.of(rows), OptionalLong.of(bytes));
    }
}
