package sharptally.api.job;

import java.util.Optional;

/**
 * How much a comparison may ask of the servers and of the user's time.
 *
 * @param findings how many of them are enough
 * @param stopAfterSeconds after how long the work ends, finished or not
 * @param pace how many rows a second may be asked of each side
 */
public record RequestedLimits(
        Optional<Integer> workers, Optional<Long> findings, Optional<Long> stopAfterSeconds, Optional<Long> pace) {}
