package sharptally.api.job;

import java.nio.file.Path;
import java.util.Optional;
import sharptally.core.compare.ComparisonSettings;
import sharptally.core.compare.Method;
import sharptally.core.compare.stream.RateLimit;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Place;
import sharptally.formats.job.JobFile;
import sharptally.formats.run.Journal;
import sharptally.formats.run.RunFolder;

/**
 * What a user asked of a comparison, in the user's own words, so that it can be asked again when a run is resumed.
 *
 * @param snapshot whether each side is read in one state
 * @param rangeRows about how many rows are compared at a time
 * @param besides what is done beside comparing rows
 */
public record CompareRequest(
        RequestedTables tables,
        Narrowing narrowing,
        boolean allowEmpty,
        boolean snapshot,
        CompareJob.Totals totals,
        Method method,
        Optional<Long> rangeRows,
        RequestedLimits limits,
        Besides besides) {
    public CompareRequest {
        besides = besides == null ? Besides.NONE : besides;
    }

    /**
     * What is done beside comparing rows.
     *
     * @param accepted the file of accepted differences; empty for the one that the job file names
     * @param integrity whether constraints are looked at
     * @param declarations whether it is looked at what tables are declared to be
     * @param since the folder of a run whose findings are taken over where checksums are as they were then, or
     *     {@link #LATEST}
     */
    public record Besides(Optional<String> accepted, boolean integrity, boolean declarations, Optional<String> since) {
        public static final Besides NONE = new Besides(Optional.empty(), false, false, Optional.empty());

        /** The latest run of the same tables. */
        public static final String LATEST = "latest";

        public Besides {
            accepted = accepted == null ? Optional.empty() : accepted;
            since = since == null ? Optional.empty() : since;
        }
    }

    /** The resolved job file of a run, in which conditions and samples stand as well. */
    public static Path jobFileOf(RunFolder run) {
        return run.folder().resolve("job.yaml");
    }

    /** The comparison that a run has made, once more. */
    public static CompareRequest again(RunFolder run) {
        CompareRequest before = Journal.wishOf(run.folder(), CompareRequest.class);
        return new CompareRequest(
                RequestedTables.ofJobFile(jobFileOf(run).toString()),
                before.narrowing.withoutConditions(),
                before.allowEmpty,
                before.snapshot,
                CompareJob.Totals.NONE,
                before.method,
                before.rangeRows,
                new RequestedLimits(
                        Optional.empty(),
                        Optional.empty(),
                        Optional.empty(),
                        before.limits.pace(),
                        before.limits.snapshotSeconds()),
                new Besides(
                        run.acceptedFile().map(Path::toString),
                        before.besides.integrity,
                        before.besides.declarations,
                        Optional.empty()));
    }

    /** The same with this target, of several. */
    public CompareRequest to(String target) {
        return new CompareRequest(
                tables.to(target), narrowing, allowEmpty, snapshot, totals, method, rangeRows, limits, besides);
    }

    /** The same with the limits of another wish. */
    public CompareRequest withLimitsOf(CompareRequest now) {
        return new CompareRequest(
                tables, narrowing, allowEmpty, snapshot, totals, method, rangeRows, now.limits, besides);
    }

    /** The file of accepted differences that counts. */
    Optional<Path> acceptedFile(JobRequest wish) {
        return besides.accepted.map(Path::of).or(() -> wish.jobFile().flatMap(JobFile::accepted));
    }

    /** How each match is compared, with so many workers. */
    ComparisonSettings settings(TableMatch match, Place from, Place to, int ranges) {
        return new ComparisonSettings(
                method,
                narrowing.range(match),
                rangeRows.orElse(ComparisonSettings.ROWS_PER_RANGE),
                ranges,
                narrowing.since(match),
                narrowing.sampledHere(match, from, to));
    }

    /** Which all matches and workers share. */
    RateLimit pace() {
        return limits.pace().map(RateLimit::new).orElse(RateLimit.NONE);
    }
}
