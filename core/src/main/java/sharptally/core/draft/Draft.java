package sharptally.core.draft;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;

/**
 * What is proposed for two places.
 *
 * @param sourceOnly tables for which no counterpart was found
 */
public record Draft(List<Pair> pairs, List<TableShape> sourceOnly, List<TableShape> targetOnly) {
    public Draft {
        pairs = List.copyOf(pairs);
        sourceOnly = List.copyOf(sourceOnly);
        targetOnly = List.copyOf(targetOnly);
    }

    /**
     * Two tables that seem to belong together.
     *
     * @param how what speaks for it
     * @param doubts what a person should check, a sentence each; empty where names leave no doubt
     * @param columns pairs in the source's order
     */
    public record Pair(
            TableShape source,
            TableShape target,
            String how,
            List<String> doubts,
            List<Columns> columns,
            List<ColumnShape> sourceOnly,
            List<ColumnShape> targetOnly,
            Key key) {
        public Pair {
            doubts = List.copyOf(doubts);
            columns = List.copyOf(columns);
            sourceOnly = List.copyOf(sourceOnly);
            targetOnly = List.copyOf(targetOnly);
        }

        /** Whether there is anything that a person should check. */
        public boolean isDoubtful() {
            return !doubts.isEmpty()
                    || key.doubt().isPresent()
                    || columns.stream().anyMatch(c -> c.doubt().isPresent());
        }
    }

    /**
     * Two columns that seem to belong together.
     *
     * @param doubt what a person should check
     * @param translation how the source's values become the target's, where they are not the same
     */
    public record Columns(
            ColumnShape source, ColumnShape target, Optional<String> doubt, Optional<Translation> translation) {
        /** Whether their names are the same, letter case aside. */
        public boolean isByName() {
            return source.name().equalsIgnoreCase(target.name());
        }
    }

    /**
     * How values of the source become those of the target.
     *
     * @param factor what the source's numbers are to be multiplied with, as text such as {@code 0.001}
     * @param sameAs what the target has for each value of the source
     * @param rule a rule by which they are the same, such as {@code case}
     * @param written how text is written that stands for something else, in the words of that rule
     */
    public record Translation(
            Optional<String> factor, Map<String, String> sameAs, Optional<String> rule, Map<String, String> written) {
        /** Of values that are of the same kind on both sides. */
        public Translation(Optional<String> factor, Map<String, String> sameAs, Optional<String> rule) {
            this(factor, sameAs, rule, Map.of());
        }

        public Translation {
            sameAs = Map.copyOf(sameAs);
            written = Map.copyOf(written);
        }
    }

    /**
     * A key.
     *
     * @param columns source names; empty where none was found
     * @param how where it comes from
     * @param doubt what a person should check
     */
    public record Key(List<String> columns, String how, Optional<String> doubt) {
        public Key {
            columns = List.copyOf(columns);
        }
    }
}
