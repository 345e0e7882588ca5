package sharptally.cli;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;
import sharptally.api.job.CompareJob;
import sharptally.api.job.CompareJob.Watcher;
import sharptally.api.job.CompareRequest;
import sharptally.api.job.Context;
import sharptally.api.job.JobRequest;
import sharptally.api.job.RequestedLimits;
import sharptally.api.job.RequestedTables;
import sharptally.api.job.change.RecheckJob;
import sharptally.api.job.change.SettleJob;
import sharptally.api.job.connect.Cluster;
import sharptally.api.job.keep.Freshness;
import sharptally.api.job.keep.JobLock;
import sharptally.api.job.keep.KeptRuns;
import sharptally.cli.cluster.Submission;
import sharptally.cli.compare.ManyTargets;
import sharptally.cli.compare.RunEnd;
import sharptally.cli.notice.FailureNews;
import sharptally.cli.notice.Notifying;
import sharptally.cli.notice.RunNews;
import sharptally.cli.option.BesidesChoice;
import sharptally.cli.option.EarlierChoice;
import sharptally.cli.option.FormatChoice;
import sharptally.cli.option.JobChoice;
import sharptally.cli.option.LiveChoice;
import sharptally.cli.option.QuietChoice;
import sharptally.cli.option.RecordChoice;
import sharptally.cli.option.RedactChoice;
import sharptally.cli.option.TacticsChoice;
import sharptally.cli.screen.Interrupt;
import sharptally.cli.screen.JsonResult;
import sharptally.cli.screen.ProgressBars;
import sharptally.cli.screen.Screen;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.finding.FindingFilter;
import sharptally.formats.job.JobFile;
import sharptally.formats.job.JobFileReader;
import sharptally.formats.job.Notice;
import sharptally.formats.run.RunFolder;
import sharptally.formats.run.RunSummary;
import sharptally.report.findings.HiddenRun;
import sharptally.report.findings.RowsOut;
import sharptally.report.text.ChoiceText;
import sharptally.report.text.Figures;
import sharptally.report.text.VerdictText;

@Command(
        name = "compare",
        description = "Compares all rows of two databases, and keeps what differs in a run folder.",
        mixinStandardHelpOptions = true,
        exitCodeListHeading = "%nExit codes:%n",
        exitCodeList = {
            "0:same, or accepted",
            "1:differences found",
            "2:bad usage or job file",
            "3:a database can't be read",
            "5:stopped, or not all compared"
        },
        footer = {"", "Example: sharp-tally compare sqlite:old.db h2:new"})
final class CompareCommand implements Callable<Integer> {
    private final Screen screen;
    private Optional<Path> mark = Optional.empty();

    @Spec
    CommandSpec command;

    @Mixin
    JobChoice choice;

    @Parameters(
            index = "2..*",
            paramLabel = "TARGET",
            description = {
                "Further targets, each compared by itself.",
                "The source is read once for all; each has a run of its own. In a job file: targets."
            })
    List<String> further = List.of();

    @Mixin
    LiveChoice live;

    @Option(
            names = "--strict-shape",
            description = {
                "Exit with 1 also where only the shapes differ.",
                "Types, lengths, nullability, order of columns."
            })
    boolean strictShape;

    @Option(
            names = "--allow-empty",
            description = {
                "Accept that conditions leave no row.",
                "Else a condition that leaves no row on either side ends in 5: nothing was compared."
            })
    boolean allowEmpty;

    @Option(
            names = "--rows-out",
            paramLabel = "FOLDER",
            description = {
                "Also write the rows that differ, as CSV.",
                "Whole, with all compared columns, a file of either side for each table."
            })
    Optional<Path> rowsOut = Optional.empty();

    @Option(
            names = "--totals-first",
            paramLabel = "WHICH",
            defaultValue = "job",
            description = {
                "Totals beforehand: none, job, all. Default: job.",
                "job: those for which the job file has totals or expect."
            })
    CompareJob.Totals totals = CompareJob.Totals.JOB;

    @Mixin
    BesidesChoice besides;

    @Mixin
    TacticsChoice tactics;

    @Mixin
    EarlierChoice past;

    @Option(
            names = "--on",
            paramLabel = "MASTER",
            description = {
                "Compare on the Spark cluster of this master.",
                "spark://host:7077, yarn, k8s://… or local[*]. SPARK_HOME says where Spark is; see docs/cluster.md."
            })
    Optional<String> cluster = Optional.empty();

    @Option(names = "--explain", description = "Don't compare; tell methods and their costs.")
    boolean explain;

    @Option(names = "--all", description = "List what is the same, too, however much it is.")
    boolean all;

    @Mixin
    RecordChoice recording;

    @Mixin
    RedactChoice redact;

    @Mixin
    QuietChoice quiet;

    @Option(
            names = "--keep-runs",
            paramLabel = "N",
            description = {
                "Remove runs of this job but the last N.",
                "Afterwards. Default: what the job file says, else none is removed."
            })
    Optional<Integer> keepRuns = Optional.empty();

    @Mixin
    FormatChoice format;

    CompareCommand(Screen screen) {
        this.screen = screen;
    }

    @Override
    public Integer call() {
        if (cluster.isPresent() && explain) {
            throw new ToolException(
                    ErrorKind.USAGE, "the methods of one machine are none of a cluster", "--explain", "leave --on out");
        }
        if (cluster.isPresent() && (past.sinceRun.isPresent() || !further.isEmpty())) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "a cluster compares with one target at a time, and relies on no earlier run",
                    "compare --on",
                    "leave --since-run, and all targets but one, out");
        }
        if (cluster.isPresent()) {
            return new Submission(cluster.get(), System.getenv()).run(elsewhere());
        }
        try {
            return compared();
        } catch (ToolException e) {
            choice.jobFile.ifPresent(
                    jobFile -> tellFailure(jobFile, Instant.now().toString(), e.getMessage(), e.kind()));
            mark.ifPresent(Freshness::failed);
            throw e;
        }
    }

    /** The same command without a word of where. */
    private List<String> elsewhere() {
        List<String> words = new ArrayList<>(
                command.commandLine().getParent().getParseResult().originalArgs());
        words.removeIf(word -> word.startsWith("--on="));
        int at = words.indexOf("--on");
        if (at >= 0) {
            words.subList(at, at + 2).clear();
        }
        return words;
    }

    private Optional<Path> begin(JobRequest wish, CompareRequest asked) {
        return Freshness.begin(
                choice.runs,
                wish.jobFile().map(JobFile::name),
                asked.tables().source(),
                asked.tables().target(),
                at -> choice.jobFile.ifPresent(jobFile -> tellFailure(
                        jobFile,
                        at,
                        "a comparison that began at " + at
                                + " never came to its end: it was killed, or its machine was",
                        ErrorKind.INCOMPLETE)));
    }

    /** Those who want to know of failures hear of one; what fails there is said besides. */
    private void tellFailure(Path jobFile, String at, String what, ErrorKind kind) {
        try {
            JobFileReader.Addressees addressees = JobFileReader.addressees(jobFile, System.getenv());
            String name = JobFileReader.nameOf(jobFile);
            new Notifying(
                            new FailureNews(name, at, what, kind.exitCode()),
                            Optional.of(name),
                            redact.redact,
                            System.getenv())
                    .tell(addressees.notices())
                    .forEach(failure -> screen.say("sharp-tally: " + failure));
            recording.failed(screen, addressees.record(), at, kind.exitCode());
        } catch (ToolException e) {
            screen.say("sharp-tally: " + e.getMessage());
        }
    }

    private Integer compared() {
        keepRuns.filter(n -> n < 1).ifPresent(n -> {
            throw new ToolException(ErrorKind.USAGE, "--keep-runs should be 1 or more, not " + n, "compare", "");
        });
        quiet.check("compare", format.isJson(), "--format json");
        quiet.check("compare", explain, "--explain");
        live.settleTime();
        Optional<RunFolder> earlier = past.resumed(choice.runs);
        CompareRequest asked = past.asked(earlier, choice, tactics, this::asked);
        List<JobRequest> wishes = choice.wishes(further).stream()
                .map(one -> one.reading(asked).narrowedBy(asked.narrowing()).allowingEmpty(asked.allowEmpty()))
                .toList();
        return wishes.size() > 1 ? each(wishes, asked) : one(wishes.get(0), asked, earlier);
    }

    private int one(JobRequest wish, CompareRequest asked, Optional<RunFolder> earlier) {
        int workers = choice.workersOf(wish);
        CompareJob job = new CompareJob(wish, asked, choice.runs, workers, Cluster.comparing());
        if (explain) {
            explain(job.explain(Interrupt::asked));
            return 0;
        }
        recording.check(wish);
        // Where there is no folder of runs yet, nothing is left behind by what fails before there is a run.
        boolean marks = Files.isDirectory(choice.runs);
        Optional<JobLock> lock = wish.jobFile().map(jobFile -> JobLock.of(choice.runs, jobFile.name()));
        RunFolder run;
        try {
            mark = marks ? begin(wish, asked) : Optional.empty();
            run = run(job, earlier, workers);
            mark.ifPresent(Freshness::end);
        } finally {
            lock.ifPresent(JobLock::close);
        }
        if (quiet.quiet) {
            List<String> verdict = VerdictText.lines(HiddenRun.of(run.summary(), redact.redaction()));
            screen.print(List.of(verdict.get(verdict.size() - 1) + "; run " + run.folder()));
        } else if (!format.isJson()) {
            RunEnd.print(screen, run, redact.redaction(), all, choice.runs);
        }
        int code = finished(run, wish, rowsOut);
        if (!format.isJson()) {
            return code;
        }
        Result result = new Result(run, HiddenRun.of(run.summary(), redact.redaction()));
        return code == 0 && run.summary().differences() > 0
                ? JsonResult.accepted(screen, "compare", result)
                : JsonResult.compared(screen, "compare", code, result);
    }

    /** Several targets, each compared by itself with a source that is read for all. */
    private int each(List<JobRequest> wishes, CompareRequest asked) {
        live.checkShared();
        if (Cluster.isHere()) {
            throw new ToolException(
                    ErrorKind.USAGE, "a cluster compares with one target at a time", "--on", "name one target");
        }
        int workers = choice.workersOf(wishes.get(0));
        List<CompareJob> jobs = wishes.stream()
                .map(wish -> new CompareJob(wish, asked.to(wish.target().label().toString()), choice.runs, workers))
                .toList();
        if (explain) {
            jobs.forEach(job -> explain(job.explain(Interrupt::asked)));
            return 0;
        }
        recording.check(wishes.get(0));
        boolean marks = Files.isDirectory(choice.runs);
        Optional<JobLock> lock = wishes.get(0).jobFile().map(jobFile -> JobLock.of(choice.runs, jobFile.name()));
        List<Optional<Path>> begun = new ArrayList<>();
        try {
            jobs.forEach(job -> begun.add(marks ? begin(job.wish(), job.asked()) : Optional.empty()));
            Watcher watcher = ProgressBars.watcher(quiet.of(screen), workers * jobs.size());
            return new ManyTargets(screen, Version.current(), redact.redaction(), all)
                    .run(
                            jobs,
                            watcher,
                            format.isJson()
                                    ? ManyTargets.Form.JSON
                                    : quiet.quiet ? ManyTargets.Form.QUIET : ManyTargets.Form.TEXT,
                            (i, result) -> result.run()
                                    .map(run -> ended(run, begun.get(i), wishes.get(i), watcher))
                                    .orElseGet(() -> failed(result.failure().orElseThrow(), begun.get(i))));
        } catch (ToolException e) {
            begun.forEach(one -> one.ifPresent(Freshness::failed));
            throw e;
        } finally {
            lock.ifPresent(JobLock::close);
        }
    }

    private int ended(RunFolder run, Optional<Path> begun, JobRequest wish, Watcher watcher) {
        begun.ifPresent(Freshness::end);
        RunFolder last = live.settle.isEmpty() ? run : settled(run, watcher);
        return finished(
                last,
                wish,
                rowsOut.map(folder -> folder.resolve(run.folder().getFileName().toString())));
    }

    private int failed(ToolException failure, Optional<Path> begun) {
        choice.jobFile.ifPresent(
                jobFile -> tellFailure(jobFile, Instant.now().toString(), failure.getMessage(), failure.kind()));
        begun.ifPresent(Freshness::failed);
        return failure.kind().exitCode();
    }

    /** What is done once a run has ended; gives the exit code. */
    private int finished(RunFolder run, JobRequest wish, Optional<Path> rows) {
        int code = run.summary().exitCode();
        if (code == 0 && strictShape && run.summary().shapesDiffer()) {
            screen.say("sharp-tally: the rows are the same, the shapes are not (--strict-shape)");
            code = 1;
        }
        rows.ifPresent(folder -> writeRows(run, folder));
        afterwards(run, wish);
        return recording.after(screen, run, wish, code);
    }

    /**
     * What is printed as JSON.
     *
     * @param folder of the run
     * @param run as in its {@code run.json}
     */
    record Result(String folder, RunSummary run) {
        Result(RunFolder folder, RunSummary run) {
            this(folder.folder().toString(), run);
        }
    }

    @SuppressWarnings("try")
    private RunFolder run(CompareJob job, Optional<RunFolder> earlier, int workers) {
        Watcher watcher = ProgressBars.watcher(quiet.of(screen), workers);
        try (Screen.Status status = quiet.of(screen).status("connecting, and looking at the tables")) {
            RunFolder compared = job.run(
                    Context.ofProcess(Version.current()),
                    earlier,
                    (match, rows) -> {
                        status.close();
                        return watcher.begin(match, rows);
                    },
                    Interrupt::asked);
            return live.settle.isEmpty() ? compared : settled(compared, watcher);
        }
    }

    private RunFolder settled(RunFolder compared, Watcher watcher) {
        JobRequest places = JobChoice.wishOf(CompareRequest.jobFileOf(compared));
        Context context = Context.ofProcess(Version.current());
        return new SettleJob(
                        new RecheckJob(compared, FindingFilter.ALL, places.source(), places.target(), true, context),
                        live.settleTime().orElseThrow(),
                        context)
                .run(watcher, Interrupt::asked);
    }

    private void writeRows(RunFolder run, Path folder) {
        RowsOut.Written written = RowsOut.write(run, redact.redaction(), folder);
        if (!format.isJson() && !quiet.quiet) {
            screen.print(
                    written.files().isEmpty()
                            ? List.of("rows    none differs: nothing was written")
                            : written.files().stream()
                                    .map(file -> "rows    " + file)
                                    .toList());
        }
        if (written.tooLong() > 0) {
            screen.say("sharp-tally: warning: " + Figures.count(written.tooLong(), "value")
                    + " of changed rows are left empty there: they are too long to be kept with a run");
        }
    }

    /** Tells those who want to know, and removes old runs. What fails there is said and changes no exit code. */
    private void afterwards(RunFolder run, JobRequest wish) {
        List<Notice> notices = wish.jobFile().map(JobFile::notices).orElse(List.of());
        try {
            if (!notices.isEmpty()) {
                new Notifying(new RunNews(run, before(run)), run.summary().job(), redact.redact, System.getenv())
                        .tell(notices)
                        .forEach(failure -> screen.say("sharp-tally: " + failure));
            }
            keepRuns.or(() -> wish.jobFile().flatMap(JobFile::keepRuns)).ifPresent(keep -> KeptRuns.only(keep, run));
        } catch (ToolException e) {
            screen.say("sharp-tally: " + e.getMessage());
        }
    }

    /** The run before this one with which it can be compared. */
    private Optional<RunSummary> before(RunFolder run) {
        List<RunFolder> others = RunFolder.all(choice.runs, other -> true).stream()
                .map(RunFolder::asCompared)
                .toList();
        return run.lastHeldAgainst(others).map(RunFolder::summary);
    }

    /** What the user asks for now. */
    private CompareRequest asked() {
        return new CompareRequest(
                new RequestedTables(
                        choice.source.map(s -> JobChoice.inSchema(s, choice.sourceSchema)),
                        choice.target.map(t -> JobChoice.inSchema(t, choice.targetSchema)),
                        choice.jobFile.map(Path::toString),
                        choice.tables.tables,
                        choice.key,
                        choice.leaveOut,
                        choice.tables.leftOut,
                        Optional.empty()),
                tactics.narrowing(),
                allowEmpty,
                live.snapshot,
                totals,
                tactics.method,
                tactics.rangeRows(),
                new RequestedLimits(
                        choice.workers,
                        tactics.limitFindings(),
                        tactics.stopAfterSeconds(),
                        tactics.pace(),
                        live.snapshotSeconds()),
                besides.with(past.sinceRun.map(Path::toString)));
    }

    private void explain(List<CompareJob.Explained> all) {
        if (format.isJson()) {
            JsonResult.done(screen, "compare", 0, Map.of("explained", all));
            return;
        }
        for (CompareJob.Explained one : all) {
            screen.print(ChoiceText.lines(one.match(), one.choice(), screen.style(), screen.columns()));
        }
    }
}
