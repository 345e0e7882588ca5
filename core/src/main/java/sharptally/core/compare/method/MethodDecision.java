package sharptally.core.compare.method;

import java.util.List;
import sharptally.core.compare.Method;

/**
 * Which method was chosen for a match, and why.
 *
 * @param candidates all methods, the chosen one among them
 * @param rows how many rows are expected; -1 where unknown
 */
public record MethodDecision(Method method, Reason why, List<MethodEstimate> candidates, long rows) {
    /** What decided. */
    public enum Reason {
        ASKED_FOR,
        NO_OTHER,
        FEW_ROWS,
        FASTEST_ON_SAMPLE
    }

    public MethodDecision {
        candidates = List.copyOf(candidates);
    }
}
