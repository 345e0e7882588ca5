package sharptally.core.compare.method;

import java.util.Optional;
import sharptally.core.compare.Method;

/**
 * A method as a candidate for one match.
 *
 * @param problem why it can't be used; empty when it can
 * @param how what it would do here
 * @param rowsPerSecond how many rows of the source it was seen to get through, on a sample; 0 where none was taken
 * @param bytes how many bytes are expected to cross both links
 * @param seconds how long all rows are expected to take
 */
public record MethodEstimate(
        Method method, Optional<String> problem, String how, double rowsPerSecond, double bytes, double seconds) {
    static MethodEstimate impossible(Method method, String problem) {
        return new MethodEstimate(method, Optional.of(problem), "", 0, 0, 0);
    }
}
