package sharptally.core.compare;

import java.util.List;
import java.util.Map;
import sharptally.core.types.Excerpt;
import sharptally.core.types.Value;

/**
 * What was counted for one column pair.
 *
 * @param differing changed rows in which it differs
 * @param examples some of them, the first in key order
 * @param sameByRule rows in which it is the same only by a rule; counts by the rule's word
 */
public record PairCounts(long differing, List<Example> examples, Map<String, Long> sameByRule) {
    public PairCounts {
        examples = List.copyOf(examples);
        sameByRule = Map.copyOf(sameByRule);
    }

    public static final int MAX_EXAMPLES = 3;

    PairCounts plus(PairCounts next) {
        Map<String, Long> rules = new java.util.TreeMap<>(sameByRule);
        next.sameByRule.forEach((rule, rows) -> rules.merge(rule, rows, Long::sum));
        List<Example> some = java.util.stream.Stream.concat(examples.stream(), next.examples.stream())
                .limit(MAX_EXAMPLES)
                .toList();
        return new PairCounts(differing + next.differing, some, rules);
    }

    /** Both values of one row, long ones cut, and its key as the source holds it. */
    public record Example(List<Value> key, Value source, Value target) {
        public Example {
            key = List.copyOf(key);
            source = Excerpt.of(source);
            target = Excerpt.of(target);
        }
    }
}
