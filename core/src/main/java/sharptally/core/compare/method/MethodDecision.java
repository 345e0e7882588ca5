package sharptally.core.compare.method;

import java.util.List;
import sharptally.core.compare.Method;

/**
 * Which method was chosen for a match, and why.
 *
 * @param why one sentence
 * @param candidates all methods, the chosen one among them
 * @param rows how many rows are expected; -1 where unknown
 */
public record MethodDecision(Method method, String why, List<MethodEstimate> candidates, long rows) {
    public MethodDecision {
        candidates = List.copyOf(candidates);
    }
}
