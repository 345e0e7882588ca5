package sharptally.core.match;

import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import sharptally.core.match.text.Glob;
import sharptally.core.rule.Rule;

/**
 * Rules for some columns, as the user asks for them.
 *
 * @param columns names of columns of either side, with wildcards; empty for all
 * @param type a kind of value, such as {@code text}; empty for all
 * @param settings rule by its word; an empty one takes back what was asked for more generally
 */
public record RuleRequest(Optional<Glob> columns, Optional<String> type, Map<String, Optional<Rule>> settings) {
    public RuleRequest {
        settings = Map.copyOf(settings);
    }

    /** Whether it is about this pair. */
    boolean isFor(ColumnPair pair) {
        boolean named = columns.isEmpty()
                || columns.get().matches(pair.source().name())
                || columns.get().matches(pair.target().name());
        return named
                && type.filter(t -> !t.equals(pair.comparedAs().name().toLowerCase(Locale.ROOT)))
                        .isEmpty();
    }

    /** Whether it names one column, so that a rule that does not fit there is a mistake. */
    boolean isAboutOne() {
        return columns.isPresent() && !columns.get().hasWildcard();
    }
}
