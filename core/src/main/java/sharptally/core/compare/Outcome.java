package sharptally.core.compare;

import java.time.Duration;
import java.util.List;

/**
 * A finished comparison of one match.
 *
 * @param method how it was compared
 * @param remarks what happened on the way that the user should know, a sentence each
 */
public record Outcome(Counts counts, String method, Duration elapsed, List<String> remarks) {
    public Outcome {
        remarks = List.copyOf(remarks);
    }
}
