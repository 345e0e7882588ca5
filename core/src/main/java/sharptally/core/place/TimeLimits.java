package sharptally.core.place;

import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * How long a session may take, or keep others waiting; empty where nothing was said.
 *
 * @param statement longest time that the server may work on one statement
 * @param lock longest time that a statement waits for what another session holds
 * @param snapshot age at which a transaction that only reads is ended, and reading goes on in another one, which sees a
 *     later state; nothing that the server keeps for one of ours is kept for longer
 */
public record TimeLimits(Optional<Duration> statement, Optional<Duration> lock, Optional<Duration> snapshot) {
    /** What an engine itself does after a time. */
    public enum Kept {
        /** It ends statements. */
        STATEMENT,
        /** It gives up waiting. */
        LOCK
    }

    /** For a reader to wait where nothing was said: somebody changes the table, and may be at it for hours. */
    public static final Duration READER_WAITS = Duration.ofMinutes(2);

    /** For a writer, whom others wait for by then. */
    public static final Duration WRITER_WAITS = Duration.ofSeconds(30);

    public static final TimeLimits NONE = new TimeLimits(Optional.empty(), Optional.empty(), Optional.empty());

    TimeLimits withSnapshot(Optional<Duration> age) {
        return new TimeLimits(statement, lock, age);
    }

    /** What was said and an engine would not keep, by the names that users know. */
    public List<String> beyond(Set<Kept> kept) {
        List<String> beyond = new ArrayList<>();
        if (statement.isPresent() && !kept.contains(Kept.STATEMENT)) {
            beyond.add("statement-timeout");
        }
        if (lock.isPresent() && !kept.contains(Kept.LOCK)) {
            beyond.add("lock-wait");
        }
        return beyond;
    }
}
