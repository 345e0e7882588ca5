package sharptally.core.match;

import java.util.List;
import sharptally.core.shape.TableName;

/** Something about a match that is as the user wants it or as the databases have it, and that is worth knowing. */
public sealed interface MatchNote {
    /** A column that was left out on request. */
    record LeftOut(String column) implements MatchNote {}

    /**
     * There is no key, so that whole rows are counted.
     *
     * @param nullable columns that are unique but may be NULL, and so do not tell rows apart; empty where there are none
     */
    record NoKey(List<String> nullable) implements MatchNote {
        public NoKey {
            nullable = List.copyOf(nullable);
        }
    }

    /**
     * Columns that are compared by a rule.
     *
     * @param rule its word
     */
    record ByRule(String rule, List<String> columns) implements MatchNote {
        public ByRule {
            columns = List.copyOf(columns);
        }
    }

    /**
     * The rows are those of one partition.
     *
     * @param of the match of all of them
     */
    record OfPartition(String of) implements MatchNote {}

    /** The table has partitions, and is compared as one all the same. */
    record Undivided(String why) implements MatchNote {}

    /** Other tables inherit from one of the match, and their rows are not compared with it. */
    record Inherited(TableName table) implements MatchNote {}
}
