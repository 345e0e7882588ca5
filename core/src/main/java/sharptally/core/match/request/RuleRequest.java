package sharptally.core.match.request;

import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import sharptally.core.match.text.Glob;
import sharptally.core.rule.Rule;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.Kind;

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

    /** Whether it is about two columns that are compared as values of a kind. */
    public boolean isFor(ColumnShape source, ColumnShape target, Kind comparedAs) {
        boolean named = columns.isEmpty()
                || columns.get().matches(source.name())
                || columns.get().matches(target.name());
        return named
                && type.filter(t -> !t.equals(comparedAs.name().toLowerCase(Locale.ROOT)))
                        .isEmpty();
    }

    /** Whether it names one column, so that a rule that does not fit there is a mistake. */
    public boolean isAboutOne() {
        return columns.isPresent() && !columns.get().hasWildcard();
    }
}
