package sharptally.core.totals;

import java.util.List;

/**
 * The totals of one match.
 *
 * @param match its name
 * @param by by what rows were grouped; empty for one group
 * @param groups how many groups there are, of either side
 * @param figures how many figures were compared with each other
 * @param differing how many of them differ
 * @param lines the figures that differ; without groups, all of them
 * @param leftOut figures that were wanted and mean nothing for a column, or not the same on both sides, with the reason
 */
public record TotalsResult(
        String match,
        String source,
        String target,
        List<String> by,
        long groups,
        long figures,
        long differing,
        List<TotalsLine> lines,
        List<String> leftOut) {
    public TotalsResult {
        by = List.copyOf(by);
        lines = List.copyOf(lines);
        leftOut = List.copyOf(leftOut);
    }
}
