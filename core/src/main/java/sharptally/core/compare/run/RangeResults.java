package sharptally.core.compare.run;

import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import sharptally.core.compare.Counts;
import sharptally.core.compare.RangeResult;
import sharptally.core.compare.checksum.Sliced;
import sharptally.core.range.DifferenceHistogram;

/** What was found in all ranges of a match. */
public final class RangeResults {
    private RangeResults() {}

    /**
     * @param parts in key order
     * @param remarks on the whole, which come first
     */
    public static RangeResult of(List<RangeResult> parts, Collection<String> remarks) {
        Counts counts =
                parts.stream().map(RangeResult::counts).reduce(Counts::plus).orElseGet(Counts::none);
        List<DifferenceHistogram.Cell> damage = new ArrayList<>();
        Set<String> methods = new LinkedHashSet<>();
        Set<String> told = new LinkedHashSet<>(remarks);
        List<Sliced> sliced = new ArrayList<>();
        for (RangeResult part : parts) {
            sliced.addAll(part.sliced());
            damage.addAll(part.damage());
            methods.add(part.method());
            told.addAll(part.remarks());
        }
        if (damage.stream().allMatch(c -> c.differing() == 0)) {
            damage.clear();
        }
        return new RangeResult(counts, String.join(" and ", methods), damage, List.copyOf(told), sliced);
    }
}
