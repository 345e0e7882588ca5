package sharptally.core.compare;

import java.nio.file.Path;
import java.util.function.BooleanSupplier;
import sharptally.core.compare.stream.RateLimit;

/**
 * What a comparison takes from around it, so that it takes nothing from the process.
 *
 * @param temporary folder in which rows are sorted that a database can't deliver in our order
 * @param progress told how many rows have passed
 * @param stopAsked looked at now and then; once true, the comparison ends with an {@code INCOMPLETE} failure
 * @param limit how many rows a second the servers are asked for; all workers share it
 */
public record ComparisonContext(Path temporary, Progress progress, BooleanSupplier stopAsked, RateLimit limit) {
    /** Tells nobody of its progress, and comes to its end as fast as it can. */
    public static ComparisonContext quiet(Path temporary) {
        return new ComparisonContext(temporary, Progress.NONE, () -> false, RateLimit.NONE);
    }

    public ComparisonContext telling(Progress other) {
        return new ComparisonContext(temporary, other, stopAsked, limit);
    }

    public ComparisonContext stoppedBy(BooleanSupplier other) {
        return new ComparisonContext(temporary, progress, other, limit);
    }

    public ComparisonContext within(RateLimit other) {
        return new ComparisonContext(temporary, progress, stopAsked, other);
    }
}
