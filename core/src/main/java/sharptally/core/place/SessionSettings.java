package sharptally.core.place;

import java.nio.file.Path;
import java.time.Duration;
import java.util.Optional;

/**
 * How a connection behaves once it is open.
 *
 * @param limits how long it may take
 * @param allowCode whether code that is kept in the place may run, such as functions of a database file written in Java
 * @param snapshot whether all that is read is read in one state of the database, where the engine can do that; else
 *     each table in its own, and no transaction is left open between them
 * @param temporary folder in which an engine inside this program may put what its memory does not hold; empty where it
 *     may write nothing, and large sorts fail
 * @param keeping folder for what large files are read into, so that they are read once; empty where nothing is kept
 * @param maxConnections how many connections a job may have open to it at once, as the source and as the target
 * @param beside the place that it is compared with, which it may read as well
 */
public record SessionSettings(
        TimeLimits limits,
        boolean allowCode,
        boolean snapshot,
        Optional<Path> temporary,
        Optional<Path> keeping,
        int maxConnections,
        Optional<Address> beside) {
    /** No limit, no code, one state. */
    public static final SessionSettings USUAL = new SessionSettings(
            TimeLimits.NONE, false, true, Optional.empty(), Optional.empty(), Integer.MAX_VALUE, Optional.empty());

    SessionSettings withSnapshot(boolean wanted) {
        return new SessionSettings(limits, allowCode, wanted, temporary, keeping, maxConnections, beside);
    }

    SessionSettings withSnapshotsUpTo(Duration age) {
        return new SessionSettings(
                limits.withSnapshot(Optional.of(age)), allowCode, snapshot, temporary, keeping, maxConnections, beside);
    }

    SessionSettings spillingTo(Path folder) {
        return new SessionSettings(limits, allowCode, snapshot, Optional.of(folder), keeping, maxConnections, beside);
    }

    SessionSettings keepingIn(Path folder) {
        return new SessionSettings(limits, allowCode, snapshot, temporary, Optional.of(folder), maxConnections, beside);
    }

    SessionSettings withMaxConnections(int most) {
        return new SessionSettings(limits, allowCode, snapshot, temporary, keeping, most, beside);
    }

    SessionSettings beside(Address other) {
        return new SessionSettings(limits, allowCode, snapshot, temporary, keeping, maxConnections, Optional.of(other));
    }
}
