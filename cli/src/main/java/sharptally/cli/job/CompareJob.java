package sharptally.cli.job;

import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.BooleanSupplier;
import java.util.function.Function;
import sharptally.core.compare.MatchResult;
import sharptally.core.compare.Progress;
import sharptally.core.compare.TableComparison;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.match.JobPlan;
import sharptally.core.match.MatchWish;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Place;
import sharptally.core.place.PlaceAccess;
import sharptally.engines.Engines;
import sharptally.formats.run.MatchSummary;
import sharptally.formats.run.RunFolder;
import sharptally.formats.run.RunState;
import sharptally.formats.run.RunSummary;
import sharptally.formats.run.RunWriter;
import sharptally.formats.sheet.SheetFile;

/**
 * One comparison of two places from opening them to a finished run folder.
 *
 * @param wishes the matches; empty to propose them by name
 * @param key the key's columns, where one match is proposed
 * @param leaveOut columns to leave out, where matches are proposed
 */
public record CompareJob(
        PlaceAccess source,
        PlaceAccess target,
        List<MatchWish> wishes,
        List<String> key,
        List<String> leaveOut,
        Path runs) {

    /** The same job, its places read in one state each, or not. */
    public CompareJob withSnapshot(boolean wanted) {
        return new CompareJob(source.withSnapshot(wanted), target.withSnapshot(wanted), wishes, key, leaveOut, runs);
    }

    /** Follows the work; asked once per match for what is told of its rows. */
    public interface Watcher {
        /** Called before a match is compared; what it gives back is told of its rows, and closed at its end. */
        Watch begin(TableMatch match, long expectedRows);
    }

    /** Follows one match. */
    public interface Watch extends Progress, AutoCloseable {
        @Override
        void close();
    }

    /**
     * @param tool version of this program, for the record
     * @throws ToolException when nothing could be compared at all; the failure of one match of several is in the
     *     result instead
     */
    public RunFolder run(String tool, Watcher watcher, BooleanSupplier stopAsked) {
        long began = System.nanoTime();
        Instant started = Instant.now();
        try (Place from = Engines.of(source.address()).open(source);
                Place to = Engines.of(target.address()).open(target)) {
            JobPlan plan = wishes.isEmpty()
                    ? JobPlan.byName(
                            from, source.label().table(), to, target.label().table(), key, leaveOut)
                    : JobPlan.of(from, to, wishes);
            RunWriter writer = RunWriter.create(runs, started);
            writer.writeMatches(plan.matches());
            writer.writeSheet(
                    SheetFile.resolved(from.address().toString(), to.address().toString(), plan.matches()));
            List<MatchSummary> finished = new ArrayList<>();
            Function<RunState, RunSummary> summary = state -> new RunSummary(
                    RunSummary.FORMAT,
                    tool,
                    writer.folder().getFileName().toString(),
                    state,
                    started.toString(),
                    (System.nanoTime() - began) / 1_000_000 / 1000.0,
                    from.address().toString(),
                    source.address().withoutTable().toString(),
                    from.product(),
                    to.address().toString(),
                    target.address().withoutTable().toString(),
                    to.product(),
                    finished,
                    plan.sourceOnly().stream().map(Object::toString).toList(),
                    plan.targetOnly().stream().map(Object::toString).toList());
            writer.writeSummary(summary.apply(RunState.INCOMPLETE));
            for (TableMatch match : plan.matches()) {
                finished.add(compare(match, from, to, writer, watcher, stopAsked));
                writer.writeSummary(summary.apply(RunState.INCOMPLETE));
            }
            boolean complete = finished.stream().allMatch(m -> m.state() == RunState.COMPLETE);
            writer.writeSummary(summary.apply(complete ? RunState.COMPLETE : RunState.INCOMPLETE));
            return RunFolder.open(writer.folder());
        }
    }

    private static MatchSummary compare(
            TableMatch match, Place from, Place to, RunWriter writer, Watcher watcher, BooleanSupplier stopAsked) {
        MatchResult result;
        try (RunWriter.FindingsOut findings = writer.openFindings(match);
                Watch watch = watcher.begin(
                        match, from.estimate(match.source().name()).rows().orElse(-1))) {
            if (stopAsked.getAsBoolean()) {
                throw new ToolException(ErrorKind.INCOMPLETE, "stopped on request", match.name(), "not begun");
            }
            var outcome = new TableComparison(match, from, to, watch, stopAsked).run(findings);
            result = new MatchResult(match, Optional.of(outcome), Optional.empty());
        } catch (ToolException e) {
            result = new MatchResult(match, Optional.empty(), Optional.of(e));
        }
        return MatchSummary.of(result, writer.findingsFile(match));
    }
}
