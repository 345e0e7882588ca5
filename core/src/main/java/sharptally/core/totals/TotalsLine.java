package sharptally.core.totals;

import java.util.List;
import java.util.Optional;

/**
 * One figure of one group, of both sides.
 *
 * @param group what the group's columns hold; empty where there is but one group
 * @param column source name; empty for the number of rows
 * @param source as text; empty where the side has no such group
 * @param difference target less source, where both are numbers
 * @param held whether both are the same, or lie within what is allowed
 */
public record TotalsLine(
        List<String> group,
        String column,
        String measure,
        Optional<String> source,
        Optional<String> target,
        Optional<String> difference,
        boolean held) {
    public TotalsLine {
        group = List.copyOf(group);
    }

    /** As users write it: {@code rows}, or {@code sum(level_m)}. */
    public String figure() {
        return column.isEmpty() ? measure : measure + "(" + column + ")";
    }
}
