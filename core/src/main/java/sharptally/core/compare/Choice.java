package sharptally.core.compare;

import java.util.List;

/**
 * Which method was chosen for a match, and why.
 *
 * @param why one sentence
 * @param candidates all methods, the chosen one among them
 * @param rows how many rows are expected; -1 where unknown
 */
public record Choice(Method method, String why, List<Candidate> candidates, long rows) {
    public Choice {
        candidates = List.copyOf(candidates);
    }
}
