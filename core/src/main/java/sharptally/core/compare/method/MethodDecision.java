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
        /** One database sees both tables. */
        ONE_DATABASE,
        /** Both sides have the engine's own hash functions, alike. */
        SAME_HASHES,
        /** Both sides are files, of whose records only those are read as rows that have no equal one. */
        RECORDS,
        FASTEST_ON_SAMPLE
    }

    public MethodDecision {
        candidates = List.copyOf(candidates);
    }

    /** The same decision among these. */
    MethodDecision of(List<MethodEstimate> others) {
        return new MethodDecision(method, why, others, rows);
    }
}
