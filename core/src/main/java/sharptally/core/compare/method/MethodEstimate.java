package sharptally.core.compare.method;

import java.util.Optional;
import sharptally.core.compare.Method;
import sharptally.core.place.part.Obstacle;

/**
 * A method as a candidate for one match.
 *
 * @param how what it would do here, or why it can't be used
 * @param rowsPerSecond how many rows of the source it was seen to get through, on a sample; 0 where none was taken
 * @param bytes how many bytes are expected to cross both links
 * @param seconds how long all rows are expected to take
 */
public record MethodEstimate(Method method, How how, double rowsPerSecond, double bytes, double seconds) {
    /** What a method does with one match. */
    public sealed interface How {}

    /** Reads all rows of both sides; where they are not in the key's order, they are sorted here. */
    public record Reads(boolean sorted) implements How {}

    /**
     * Has both sides work out checksums.
     *
     * @param notOwn why not by the engine's own hash functions; empty when by them
     * @param scans whether all rows are looked at for that, as no index has our order
     */
    public record Hashes(Optional<Obstacle> notOwn, boolean scans) implements How {}

    /** Has the server join the tables. */
    public record JoinsThere() implements How {}

    /** Can't be used. */
    public record Not(Obstacle why) implements How {}

    static MethodEstimate impossible(Method method, Obstacle why) {
        return new MethodEstimate(method, new Not(why), 0, 0, 0);
    }

    /** Why it can't be used; empty when it can. */
    public Optional<Obstacle> problem() {
        return how instanceof Not not ? Optional.of(not.why()) : Optional.empty();
    }
}
