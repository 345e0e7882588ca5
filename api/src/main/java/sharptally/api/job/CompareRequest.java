package sharptally.api.job;

import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import sharptally.core.compare.ComparisonSettings;
import sharptally.core.compare.Method;
import sharptally.core.compare.stream.RateLimit;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Place;
import sharptally.formats.run.Journal;
import sharptally.formats.run.RunFolder;

/**
 * What a user asked of a comparison, in the user's own words, so that it can be asked again when a run is gone on with.
 *
 * @param limitFindings how many findings are enough
 * @param stopAfterSeconds after how long the work ends, finished or not
 * @param pace how many rows a second may be asked of each side
 */
public record CompareRequest(
        Optional<String> source,
        Optional<String> target,
        Optional<String> sheet,
        List<String> only,
        List<String> key,
        List<String> leaveOut,
        List<String> leaveOutTables,
        Narrowing narrowing,
        boolean allowEmpty,
        boolean snapshot,
        Optional<Integer> workers,
        CompareJob.Totals totals,
        Method method,
        Optional<Long> rangeRows,
        Optional<Long> limitFindings,
        Optional<Long> stopAfterSeconds,
        Optional<Long> pace) {

    /** The resolved sheet of a run, in which conditions and samples stand as well. */
    public static Path sheetOf(RunFolder run) {
        return run.folder().resolve("sheet.yaml");
    }

    /** The comparison that a run has made, once more. */
    public static CompareRequest again(RunFolder run) {
        CompareRequest before = Journal.wishOf(run.folder(), CompareRequest.class);
        return new CompareRequest(
                Optional.empty(),
                Optional.empty(),
                Optional.of(sheetOf(run).toString()),
                List.of(),
                List.of(),
                List.of(),
                List.of(),
                before.narrowing.withoutConditions(),
                before.allowEmpty,
                before.snapshot,
                Optional.empty(),
                CompareJob.Totals.NONE,
                before.method,
                before.rangeRows,
                Optional.empty(),
                Optional.empty(),
                before.pace);
    }

    /** The same with the limits of another wish. */
    public CompareRequest withLimitsOf(CompareRequest now) {
        return new CompareRequest(
                source,
                target,
                sheet,
                only,
                key,
                leaveOut,
                leaveOutTables,
                narrowing,
                allowEmpty,
                snapshot,
                now.workers,
                totals,
                method,
                rangeRows,
                now.limitFindings,
                now.stopAfterSeconds,
                now.pace);
    }

    /** How each match is compared, with so many workers. */
    ComparisonSettings manner(TableMatch match, Place from, Place to, int ranges) {
        return new ComparisonSettings(
                method,
                narrowing.range(match),
                rangeRows.orElse(ComparisonSettings.ROWS_PER_RANGE),
                ranges,
                pace.map(RateLimit::new).orElse(RateLimit.NONE),
                narrowing.since(match),
                narrowing.sampledHere(match, from, to));
    }
}
