package sharptally.core.compare;

import java.util.List;
import sharptally.core.compare.checksum.Sliced;
import sharptally.core.range.DifferenceHistogram;

/**
 * What was found in one range of a match, or in all of it.
 *
 * @param method how it was compared
 * @param damage where rows differ, in key order; empty where there is no key
 * @param remarks what happened on the way that the user should know
 * @param sliced how ranges were cut into slices, and with what checksums these differ, as far as that is known
 */
public record RangeResult(
        Counts counts,
        String method,
        List<DifferenceHistogram.Cell> damage,
        List<String> remarks,
        List<Sliced> sliced) {
    public RangeResult {
        damage = List.copyOf(damage);
        remarks = List.copyOf(remarks);
        sliced = sliced == null ? List.of() : List.copyOf(sliced);
    }

    /** Of which no checksums are known. */
    public RangeResult(Counts counts, String method, List<DifferenceHistogram.Cell> damage, List<String> remarks) {
        this(counts, method, damage, remarks, List.of());
    }
}
