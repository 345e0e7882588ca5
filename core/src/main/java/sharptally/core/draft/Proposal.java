package sharptally.core.draft;

import java.math.BigDecimal;
import java.util.List;
import sharptally.core.match.ColumnPair;
import sharptally.core.rule.Rule;
import sharptally.core.types.Value;

/**
 * A change of a job file that would make values the same which a run found to differ.
 *
 * @param pair the columns whose values they are
 * @param explains how many of the values that differ would be the same by it
 * @param of how many differ
 * @param hides a few that would be the same
 * @param leaves a few that would differ all the same
 */
public record Proposal(
        ColumnPair pair, Change change, long explains, long of, List<Example> hides, List<Example> leaves) {
    public Proposal {
        hides = List.copyOf(hides);
        leaves = List.copyOf(leaves);
    }

    /** What is changed. */
    public sealed interface Change {
        /** Whether values that are the same now may differ by it: those of one side are changed. */
        default boolean translates() {
            return this instanceof ByRules by ? by.rules.stream().anyMatch(Rule::translates) : this instanceof Scaled;
        }
    }

    /** The columns are compared by these rules too. */
    public record ByRules(List<Rule> rules) implements Change {
        public ByRules {
            rules = List.copyOf(rules);
        }
    }

    /** The source's number is multiplied while it is read. */
    public record Scaled(BigDecimal factor) implements Change {}

    /** The column is not compared: rows are counted, in which nothing else differs. */
    public record LeftOut() implements Change {}

    /**
     * A value that differs.
     *
     * @param key of its row, as it is shown
     */
    public record Example(String key, Value source, Value target) {}
}
