package sharptally.cli.option;

import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Predicate;
import java.util.function.Supplier;
import picocli.CommandLine.Option;
import sharptally.api.job.CompareRequest;
import sharptally.api.job.RequestedTables;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.match.TableMatch;
import sharptally.core.match.text.Glob;
import sharptally.formats.run.Journal;
import sharptally.formats.run.RunFolder;
import sharptally.formats.run.RunState;
import sharptally.formats.run.RunSummary;

/** An earlier run that knows what is to be compared. */
public final class EarlierChoice {
    @Option(
            names = "--resume",
            paramLabel = "RUN",
            description = {
                "Resume an interrupted run.",
                "With what was asked of it, and without reading again what it had finished."
            })
    Optional<Path> resume = Optional.empty();

    @Option(
            names = "--only-failed",
            paramLabel = "RUN",
            description = {
                "Compare again what differed in a run.",
                "Or in the latest. As it was asked for then: tables that differed, were not proved, or stand on one side alone. The verdict"
                        + " says so."
            })
    Optional<Path> onlyFailed = Optional.empty();

    @Option(
            names = "--since-run",
            paramLabel = "RUN",
            description = {
                "Take findings over that still hold.",
                "Of this run, or of the latest one of the same tables (latest): where both sides have the checksums that they had"
                        + " then, no row is read. The result says what was relied on."
            })
    public Optional<Path> sinceRun = Optional.empty();

    /** The run that is resumed. */
    public Optional<RunFolder> resumed(Path runs) {
        if (resume.isPresent() && onlyFailed.isPresent()) {
            throw new ToolException(ErrorKind.USAGE, "not both", "--resume --only-failed", "leave one of them out");
        }
        if (resume.isPresent() && sinceRun.isPresent()) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "a run that is resumed goes on as it began",
                    "--resume --since-run",
                    "leave --since-run out");
        }
        Predicate<RunFolder> interrupted = run -> run.summary().state() != RunState.COMPLETE;
        return resume.map(run -> {
            if (run.toString().equals(CompareRequest.Besides.LATEST)
                    && RunFolder.all(runs, interrupted).isEmpty()) {
                throw new ToolException(ErrorKind.USAGE, "no run was interrupted", runs.toString(), "compare anew");
            }
            return RunChoice.named(run, runs, interrupted);
        });
    }

    /**
     * What is asked by it, which is then chosen as if it had been said anew; what is asked now where no run is named.
     *
     * @param resumed the run that is resumed
     * @param now what is asked now
     */
    public CompareRequest asked(
            Optional<RunFolder> resumed, JobChoice choice, TacticsChoice tactics, Supplier<CompareRequest> now) {
        return resumed.map(run -> before(run, choice, tactics, now))
                .or(() -> onlyFailed
                        .map(run -> RunChoice.named(
                                run, choice.runs, folder -> folder.summary().state() == RunState.COMPLETE))
                        .map(run -> ofFailed(run, choice, tactics, now)))
                .orElseGet(now);
    }

    /** What was asked of a run, for those of its tables that were not the same. */
    private static CompareRequest ofFailed(
            RunFolder run, JobChoice choice, TacticsChoice tactics, Supplier<CompareRequest> now) {
        CompareRequest before = takenFrom(run, "--only-failed", choice, tactics);
        RunSummary summary = run.summary();
        List<String> failed = new ArrayList<>();
        for (TableMatch match : run.matches()) {
            if (run.summaryOf(match).filter(m -> m.exitCode() == 0).isEmpty()) {
                failed.add(match.name());
            }
        }
        summary.lone().forEach(lone -> failed.add(lone.table()));
        if (failed.isEmpty()) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "no table of that run is to be compared again: none differed, and each was compared to its end",
                    "compare --only-failed " + run.folder(),
                    "compare all, without --only-failed");
        }
        choice.tables.tables = failed.stream().map(Glob::escaped).toList();
        CompareRequest wished = now.get();
        return new CompareRequest(
                new RequestedTables(
                        before.tables().source(),
                        before.tables().target(),
                        before.tables().jobFile(),
                        choice.tables.tables,
                        before.tables().key(),
                        before.tables().leaveOut(),
                        before.tables().leaveOutTables(),
                        Optional.of(summary.run())),
                before.narrowing(),
                before.allowEmpty(),
                wished.snapshot(),
                wished.totals(),
                wished.method(),
                before.rangeRows(),
                wished.limits(),
                new CompareRequest.Besides(
                        wished.besides().accepted().or(() -> before.besides().accepted()),
                        wished.besides().integrity() || before.besides().integrity(),
                        wished.besides().declarations() || before.besides().declarations(),
                        wished.besides().since()));
    }

    /** What the user asked for when the run began, but for its limits, which may be other ones now. */
    private static CompareRequest before(
            RunFolder run, JobChoice choice, TacticsChoice tactics, Supplier<CompareRequest> now) {
        CompareRequest before = takenFrom(run, "--resume", choice, tactics);
        choice.clock = Clock.fixed(Instant.parse(run.summary().started()), ZoneOffset.UTC);
        choice.tables.tables = before.tables().only();
        return before.withLimitsOf(now.get());
    }

    /** The places, tables and columns of another run. */
    private static CompareRequest takenFrom(RunFolder run, String option, JobChoice choice, TacticsChoice tactics) {
        if (choice.source.isPresent()
                || choice.jobFile.isPresent()
                || !choice.tables.isEmpty()
                || tactics.isNarrowing()) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "that run knows what was asked of it",
                    "compare " + option,
                    "give " + option + " without databases, job file, tables or conditions");
        }
        CompareRequest before = Journal.wishOf(run.folder(), CompareRequest.class);
        choice.source = before.tables().source();
        choice.target = before.tables().target();
        choice.jobFile = before.tables().jobFile().map(Path::of);
        choice.key = before.tables().key();
        choice.leaveOut = before.tables().leaveOut();
        choice.tables.leftOut = before.tables().leaveOutTables();
        choice.workers = choice.workers.or(before.limits()::workers);
        return before;
    }
}
