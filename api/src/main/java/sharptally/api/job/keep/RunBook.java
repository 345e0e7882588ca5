package sharptally.api.job.keep;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import sharptally.api.job.Context;
import sharptally.api.job.JobRequest;
import sharptally.core.compare.Pair;
import sharptally.core.match.JobPlan;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Endpoint;
import sharptally.core.place.Place;
import sharptally.core.totals.CheckResult;
import sharptally.core.totals.TotalsResult;
import sharptally.formats.job.JobFile;
import sharptally.formats.job.JobFileWriter;
import sharptally.formats.run.AuditLog;
import sharptally.formats.run.LoneSummary;
import sharptally.formats.run.MatchSummary;
import sharptally.formats.run.RunFolder;
import sharptally.formats.run.RunState;
import sharptally.formats.run.RunSummary;
import sharptally.formats.run.RunWriter;

/**
 * Keeps a run folder while matches are worked on, maybe several at once: after each one its summary says what is known
 * by then. Results stand in the order of the matches, whichever was finished first. Safe for use by several threads.
 */
public final class RunBook {
    private final long began = System.nanoTime();
    /** The summary is written again whole for each match, of which there may be thousands. */
    private final Paced summary = new Paced(this, () -> write(RunState.INCOMPLETE));

    private final Instant started;
    private final String tool;
    private final JobPlan plan;
    private final RunWriter writer;
    private final Optional<JobFile> jobFile;
    private final Optional<String> jobSha256;
    private final RunSummary.Database source;
    private final RunSummary.Database target;
    private final MatchSummary[] finished;
    private final TotalsResult[] totals;
    private final List<List<CheckResult>> checks = new ArrayList<>();
    private final Set<String> notes = new LinkedHashSet<>();
    private List<String> narrowed = List.of();
    private List<LoneSummary> lone = List.of();
    private List<RunSummary.Accepted> accepted = List.of();
    private Optional<RunSummary.Integrity> integrity = Optional.empty();
    private Optional<RunSummary.Declared> declared = Optional.empty();

    /** A run that looks at no rows, so that no findings follow. */
    public static RunBook ofTotals(Path runs, Context context, JobRequest wish, JobPlan plan, Pair places) {
        return of(RunWriter.create(runs, context.now()), Optional.empty(), context, wish, plan, places)
                .begin(List.of());
    }

    /** A run that compares rows, in a folder that was made for it. */
    public static RunBook comparing(RunWriter writer, Context context, JobRequest wish, JobPlan plan, Pair places) {
        return of(writer, Optional.empty(), context, wish, plan, places).begin(plan.matches());
    }

    private static RunBook of(
            RunWriter writer, Optional<Instant> begun, Context context, JobRequest wish, JobPlan plan, Pair places) {
        RunBook book = new RunBook(
                writer,
                begun,
                context,
                plan,
                wish.jobFile(),
                sideOf(wish.source(), places.source()),
                sideOf(wish.target(), places.target()));
        book.narrowed = wish.narrowing().words();
        return book;
    }

    private static RunSummary.Database sideOf(Endpoint endpoint, Place place) {
        return new RunSummary.Database(
                place.address().toString(),
                endpoint.address().withoutTable().toString(),
                place.product(),
                place.ownSchema(),
                place.facts(),
                place.readsOneState());
    }

    /** Resumes an interrupted run. */
    public static RunBook goOn(
            RunFolder run, RunWriter writer, Context context, JobRequest wish, JobPlan plan, Pair places) {
        RunBook book = of(writer, Optional.of(Instant.parse(run.summary().started())), context, wish, plan, places);
        book.note("interrupted and resumed; ranges that were finished by then were not read again");
        return book;
    }

    /**
     * @param begun when the run began; empty where that is now
     */
    private RunBook(
            RunWriter writer,
            Optional<Instant> begun,
            Context context,
            JobPlan plan,
            Optional<JobFile> jobFile,
            RunSummary.Database source,
            RunSummary.Database target) {
        this.jobFile = jobFile;
        this.jobSha256 = jobFile.map(JobFile::name)
                .map(Path::of)
                .filter(Files::isReadable)
                .map(AuditLog::sha256);
        this.started = begun.orElseGet(context::now);
        this.tool = context.tool();
        this.plan = plan;
        this.writer = writer;
        this.source = source;
        this.target = target;
        finished = new MatchSummary[plan.matches().size()];
        totals = new TotalsResult[plan.matches().size()];
        plan.matches().forEach(m -> checks.add(List.of()));
    }

    /**
     * @param compared the matches whose findings follow
     */
    private RunBook begin(List<TableMatch> compared) {
        writer.writeMatches(compared);
        writer.writeJobFile(JobFileWriter.resolved(
                source.name(),
                target.name(),
                plan.whole(),
                Optional.of(RunFolder.ACCEPTED)
                        .filter(name -> Files.exists(writer.folder().resolve(name))),
                match -> jobFile.flatMap(job -> job.entryOf(match)).flatMap(JobFile.Match::atMost)));
        write(RunState.INCOMPLETE);
        return this;
    }

    /** A run that looks at one place only, which then stands as its source; it has no target. */
    public static RunBook ofOnePlace(Path runs, Context context, Endpoint access, Place place, JobPlan plan) {
        return new RunBook(
                        RunWriter.create(runs, context.now()),
                        Optional.empty(),
                        context,
                        plan,
                        Optional.empty(),
                        new RunSummary.Database(
                                access.label().toString(),
                                access.address().withoutTable().toString(),
                                place.product(),
                                place.ownSchema(),
                                place.facts(),
                                place.readsOneState()),
                        RunSummary.Database.NONE)
                .begin(List.of());
    }

    public RunWriter writer() {
        return writer;
    }

    /** The tables that are on one side only. */
    public synchronized void lone(List<LoneSummary> tables) {
        lone = List.copyOf(tables);
        write(RunState.INCOMPLETE);
    }

    public synchronized void finished(int match, MatchSummary summary) {
        finished[match] = summary;
        this.summary.changed();
    }

    public synchronized void totals(int match, Optional<TotalsResult> result, List<CheckResult> held) {
        totals[match] = result.orElse(null);
        checks.set(match, held);
        this.summary.changed();
    }

    /** What was found of expectations that belong to no match. */
    public synchronized void checks(List<CheckResult> found) {
        checks.add(found);
    }

    /** Something that the user should know of the run as a whole. */
    public synchronized void note(String note) {
        notes.add(note);
    }

    /** What was found of constraints. */
    public synchronized void integrity(RunSummary.Integrity found) {
        integrity = Optional.of(found);
        write(RunState.INCOMPLETE);
    }

    /** What tables are declared to be. */
    public synchronized void declared(RunSummary.Declared found) {
        declared = Optional.of(found);
        write(RunState.INCOMPLETE);
    }

    /** Why not all was compared, beside the wish's own conditions. */
    public synchronized void narrowed(String why) {
        narrowed = Stream.concat(narrowed.stream(), Stream.of(why)).toList();
        write(RunState.INCOMPLETE);
    }

    /** Counts what of the rows that differ is accepted, before the run says that it has ended. */
    public synchronized void accept(AcceptedRows counting) {
        summary.end();
        write(RunState.INCOMPLETE);
        RunSummary counted = counting.counted(RunFolder.open(writer.folder()));
        accepted = counted.accepted();
        for (int i = 0; i < finished.length; i++) {
            finished[i] = counted.matches().get(i);
        }
    }

    /** Says that the run has ended; complete, if every match has. */
    public synchronized RunFolder close(boolean complete) {
        summary.end();
        write(complete ? RunState.COMPLETE : RunState.INCOMPLETE);
        return RunFolder.open(writer.folder());
    }

    private synchronized void write(RunState state) {
        writer.writeSummary(new RunSummary(
                RunSummary.FORMAT,
                tool,
                writer.folder().getFileName().toString(),
                state,
                started.toString(),
                (System.nanoTime() - began) / 1_000_000 / 1000.0,
                Optional.of(AuditLog.who()),
                jobFile.map(JobFile::name),
                jobSha256,
                source,
                target,
                Arrays.stream(finished).filter(Objects::nonNull).toList(),
                lone,
                plan.leftOut(),
                List.copyOf(notes),
                Arrays.stream(totals).filter(Objects::nonNull).toList(),
                checks.stream().flatMap(List::stream).toList(),
                narrowed,
                accepted,
                integrity,
                declared,
                Optional.empty(),
                jobFile.filter(JobFile::oneOfSeveral).isPresent()));
    }
}
