package sharptally.core.common;

import java.util.List;
import java.util.Optional;
import sharptally.core.finding.FindingKind;

/**
 * Rows of a match that differ in one way, and what they have in common.
 *
 * @param column the column in which they differ; empty of all that are of a kind
 * @param rows how many there are
 * @param sampled whether only some of the rows that are the same were looked at
 * @param common the most telling first; empty where nothing can be told that chance does not explain
 */
public record CommonRows(
        String match, FindingKind kind, Optional<String> column, long rows, boolean sampled, List<Common> common) {
    public CommonRows {
        common = List.copyOf(common);
    }
}
