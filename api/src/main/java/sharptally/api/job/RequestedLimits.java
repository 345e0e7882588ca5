package sharptally.api.job;

import java.time.Duration;
import java.util.Optional;

/**
 * How much a comparison may ask of the servers and of the user's time.
 *
 * @param findings how many of them are enough
 * @param stopAfterSeconds after how long the work ends, finished or not
 * @param pace how many rows a second may be asked of each side
 * @param snapshotSeconds how old a state of the database may get while it is read
 */
public record RequestedLimits(
        Optional<Integer> workers,
        Optional<Long> findings,
        Optional<Long> stopAfterSeconds,
        Optional<Long> pace,
        Optional<Long> snapshotSeconds) {
    public static final RequestedLimits NONE = new RequestedLimits(
            Optional.empty(), Optional.empty(), Optional.empty(), Optional.empty(), Optional.empty());

    Optional<Duration> snapshotAge() {
        return snapshotSeconds.map(Duration::ofSeconds);
    }
}
