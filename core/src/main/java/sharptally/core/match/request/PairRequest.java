package sharptally.core.match.request;

import java.util.Map;
import java.util.Optional;
import sharptally.core.rule.Rule;

/**
 * One column of each side that the user wants compared with each other.
 *
 * @param rules by their words; an empty one takes back what was asked for more generally
 */
public record PairRequest(String source, String target, Map<String, Optional<Rule>> rules) {
    public PairRequest {
        rules = Map.copyOf(rules);
    }
}
