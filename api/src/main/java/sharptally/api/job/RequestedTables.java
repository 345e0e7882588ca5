package sharptally.api.job;

import java.util.List;
import java.util.Optional;

/**
 * What a user asked to compare, in the user's own words.
 *
 * @param target beside a job file only where that names several
 * @param jobFile the job file that says it; else the two places
 * @param after a run of them all, of which those are compared again that were not the same; empty for all
 */
public record RequestedTables(
        Optional<String> source,
        Optional<String> target,
        Optional<String> jobFile,
        List<String> only,
        List<String> key,
        List<String> leaveOut,
        List<String> leaveOutTables,
        Optional<String> after) {
    public RequestedTables {
        after = after == null ? Optional.empty() : after;
    }

    /** The same with this target, of several. */
    RequestedTables to(String one) {
        return new RequestedTables(source, Optional.of(one), jobFile, only, key, leaveOut, leaveOutTables, after);
    }

    /** What a job file says, and nothing else. */
    static RequestedTables ofJobFile(String jobFile) {
        return new RequestedTables(
                Optional.empty(),
                Optional.empty(),
                Optional.of(jobFile),
                List.of(),
                List.of(),
                List.of(),
                List.of(),
                Optional.empty());
    }
}
