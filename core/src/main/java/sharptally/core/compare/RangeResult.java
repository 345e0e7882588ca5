package sharptally.core.compare;

import java.util.List;
import sharptally.core.range.DifferenceHistogram;

/**
 * What was found in one range of a match, or in all of it.
 *
 * @param method how it was compared
 * @param damage where rows differ, in key order; empty where there is no key
 * @param remarks what happened on the way that the user should know
 */
public record RangeResult(Counts counts, String method, List<DifferenceHistogram.Cell> damage, List<String> remarks) {
    public RangeResult {
        damage = List.copyOf(damage);
        remarks = List.copyOf(remarks);
    }
}
