package sharptally.core.compare;

import java.time.Duration;
import java.util.List;
import sharptally.core.range.DifferenceHistogram;

/**
 * A finished comparison of one match.
 *
 * @param method how it was compared
 * @param remarks what happened on the way that the user should know, a sentence each
 * @param mistrusted whether checksums were found to say the same of rows that are not: a fault of this program, after which
 *     all rows were read
 * @param damage where in the key range rows differ, in key order; empty where there is no key
 */
public record Outcome(
        Counts counts,
        String method,
        Duration elapsed,
        List<String> remarks,
        boolean mistrusted,
        List<DifferenceHistogram.Cell> damage) {
    /** How many cells are kept at most. */
    private static final int MAX_CELLS = 240;

    public Outcome {
        remarks = List.copyOf(remarks);
        damage = List.copyOf(damage);
    }

    public static Outcome of(RangeResult part, boolean mistrusted, Duration elapsed) {
        return new Outcome(
                part.counts(),
                part.method(),
                elapsed,
                part.remarks(),
                mistrusted,
                DifferenceHistogram.condensed(part.damage(), MAX_CELLS));
    }
}
