package sharptally.api.job;

import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.function.BooleanSupplier;
import sharptally.api.job.beside.DeclarationsLook;
import sharptally.api.job.beside.IntegrityLook;
import sharptally.api.job.keep.AcceptedRows;
import sharptally.api.job.keep.LimitedParts;
import sharptally.api.job.keep.Limits;
import sharptally.api.job.keep.RunBook;
import sharptally.api.job.keep.SinceRun;
import sharptally.core.accept.Acceptances;
import sharptally.core.compare.ComparisonContext;
import sharptally.core.compare.MatchResult;
import sharptally.core.compare.Outcome;
import sharptally.core.compare.Pair;
import sharptally.core.compare.Progress;
import sharptally.core.compare.method.MethodChoice;
import sharptally.core.compare.method.MethodDecision;
import sharptally.core.compare.run.Comparing;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.match.JobPlan;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Place;
import sharptally.core.place.Side;
import sharptally.formats.job.AcceptedFile;
import sharptally.formats.job.JobFile;
import sharptally.formats.run.Journal;
import sharptally.formats.run.MatchParts;
import sharptally.formats.run.MatchSummary;
import sharptally.formats.run.RunFolder;
import sharptally.formats.run.RunLock;
import sharptally.formats.run.RunState;
import sharptally.formats.run.RunWriter;
import sharptally.report.text.MatchText;
import sharptally.report.text.ObstacleText;

/**
 * A comparison of two places from opening them to a finished run folder.
 *
 * @param asked what the user asked for, kept in the run so that it can be resumed
 * @param workers how many connections per side are worked with at once
 * @param comparing how the rows of each match are compared
 */
public record CompareJob(JobRequest wish, CompareRequest asked, Path runs, int workers, Comparing comparing) {
    private static final String OTHER_STATES =
            "several workers read over connections of their own, each seeing the state of its beginning";

    /** One whose rows are compared in this process. */
    public CompareJob(JobRequest wish, CompareRequest asked, Path runs, int workers) {
        this(wish, asked, runs, workers, Comparing::here);
    }

    /** Whether totals stand beside the comparison of rows. */
    public enum Totals {
        NONE,
        /** Of those matches of which the job file says something about totals. */
        JOB,
        ALL;

        @Override
        public String toString() {
            return name().toLowerCase(java.util.Locale.ROOT);
        }
    }

    /** Follows the work; asked once per match for what is told of its rows. Called by several threads. */
    public interface Watcher {
        /** Called before a match is compared; what it gives back is told of its rows, and closed at its end. */
        Watch begin(TableMatch match, long expectedRows);

        /** Called once, before any match is compared. */
        default void planned(List<TableMatch> matches) {}
    }

    /** Follows one match. */
    public interface Watch extends Progress, AutoCloseable {
        @Override
        void close();
    }

    /**
     * Compares.
     *
     * @param context what it takes from around it
     * @param resumed the run to resume; empty to begin one
     * @throws ToolException when nothing could be compared at all; the failure of one match of several is in the
     *     result instead
     */
    @SuppressWarnings("try")
    public RunFolder run(Context context, Optional<RunFolder> resumed, Watcher watcher, BooleanSupplier stopAsked) {
        try (Place from = wish.source().beside(wish.target()).open()) {
            return run(from, context, resumed, watcher, stopAsked);
        }
    }

    /**
     * The same with a source that is open already, and stays so.
     *
     * @throws ToolException as {@link #run(Context, Optional, Watcher, BooleanSupplier)}
     */
    @SuppressWarnings("try")
    public RunFolder run(
            Place from, Context context, Optional<RunFolder> resumed, Watcher watcher, BooleanSupplier stopAsked) {
        try (Place to = wish.target().beside(wish.source()).open()) {
            JobPlan plan = wish.plan(from, to);
            watcher.planned(plan.matches());
            // A key range or a value that is none is told before anything is written.
            plan.matches().forEach(match -> asked.settings(match, from, to, 1));
            resumed.ifPresent(run -> checkUnchanged(run, plan));
            Optional<Path> acceptedFile = resumed.isPresent() ? resumed.get().acceptedFile() : asked.acceptedFile(wish);
            Acceptances acceptances = acceptedFile.map(AcceptedFile::read).orElse(Acceptances.NONE);
            acceptances.check(plan.matches());
            RunWriter writer = resumed.map(RunWriter::goOn).orElseGet(() -> RunWriter.create(runs, context.now()));
            if (resumed.isEmpty()) {
                acceptedFile.ifPresent(writer::writeAccepted);
            }
            // A folder is a run from when it has a summary; by then it has all that is needed to resume it.
            try (RunLock lock = RunLock.of(writer.folder());
                    Journal journal = resumed.isPresent()
                            ? Journal.goOn(writer.folder())
                            : Journal.begin(writer.folder(), asked)) {
                RunBook book = resumed.map(run -> RunBook.goOn(run, writer, context, wish, plan, new Pair(from, to)))
                        .orElseGet(() -> RunBook.comparing(writer, context, wish, plan, new Pair(from, to)));
                asked.tables()
                        .after()
                        .ifPresent(run -> book.narrowed("only tables that were not the same in run " + run));
                book.lone(LoneTables.counted(plan.lone(), from, to));
                Limits limits = new Limits(
                        asked.limits().findings().map(OptionalLong::of).orElse(OptionalLong.empty()),
                        asked.limits().stopAfterSeconds().map(Duration::ofSeconds),
                        stopAsked);
                SinceRun since = since(plan, from, to);
                since.note().ifPresent(book::note);
                Around around = new Around(book, journal, watcher, limits, since, context.comparing(asked.pace()));
                MatchSummary[] finished = new MatchSummary[plan.matches().size()];
                int allowed = wish.allowed(workers);
                if (allowed < workers) {
                    book.note(allowed + " of " + workers + " workers: max-connections allows no more");
                }
                int atOnce = Math.max(1, Math.min(allowed, finished.length));
                boolean oneState = Workers.run(atOnce, finished.length, new Pair(from, to), (i, pair) -> {
                    TableMatch match = plan.matches().get(i);
                    finished[i] = resumed.flatMap(run -> run.summaryOf(match))
                            .filter(m -> m.state() == RunState.COMPLETE)
                            .orElseGet(() -> compare(match, pair, allowed / atOnce, i, around));
                    book.finished(i, finished[i]);
                });
                if (!oneState) {
                    book.note(OTHER_STATES);
                }
                if (asked.besides().integrity()) {
                    book.integrity(IntegrityLook.at(plan.whole().matches(), new Pair(from, to), wish, stopAsked));
                }
                if (asked.besides().declarations()) {
                    book.declared(DeclarationsLook.at(plan.whole().matches(), new Pair(from, to))
                            .kept());
                }
                AcceptedRows counting =
                        new AcceptedRows(acceptances, m -> wish.entryOf(m).flatMap(JobFile.Match::atMost));
                if (counting.mayAccept(plan.matches())) {
                    book.accept(counting);
                }
                return book.close(Arrays.stream(finished).allMatch(m -> m.state() == RunState.COMPLETE));
            }
        }
    }

    private SinceRun since(JobPlan plan, Place from, Place to) {
        Optional<String> wanted = asked.besides().since();
        if (wanted.isEmpty()) {
            return SinceRun.none();
        }
        return SinceRun.of(
                wanted.filter(name -> !name.equals(CompareRequest.Besides.LATEST))
                        .map(Path::of),
                runs,
                run -> run.summary().state() == RunState.COMPLETE
                        && run.summary().source().name().equals(from.address().toString())
                        && run.summary().target().name().equals(to.address().toString())
                        && run.matches().equals(plan.matches())
                        && asked.narrowing()
                                .equals(Journal.wishOf(run.folder(), CompareRequest.class)
                                        .narrowing()));
    }

    /** What each method would do for each match, and what it would cost. */
    public List<Explained> explain(BooleanSupplier stopAsked) {
        try (Place from = wish.source().beside(wish.target()).open();
                Place to = wish.target().beside(wish.source()).open()) {
            return wish.plan(from, to).matches().stream()
                    .map(match -> new Explained(
                            match.name(),
                            MethodChoice.of(match, from, to, asked.settings(match, from, to, 1), stopAsked)
                                    .choose(expectedRows(match, from), true)))
                    .toList();
        }
    }

    /** The choice of a method for one match. */
    public record Explained(String match, MethodDecision choice) {}

    private static void checkUnchanged(RunFolder run, JobPlan plan) {
        if (run.summary().state() == RunState.COMPLETE) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "this run is complete already",
                    run.folder().toString(),
                    "compare anew");
        }
        if (!run.matches().equals(plan.matches())) {
            throw new ToolException(
                    ErrorKind.REFUSED,
                    "the tables, or the job file, are not what they were when this run began",
                    run.folder().toString(),
                    "compare anew");
        }
    }

    /** What all matches of a run share. */
    private record Around(
            RunBook book, Journal journal, Watcher watcher, Limits limits, SinceRun since, ComparisonContext context) {}

    /**
     * @param ranges how many of its ranges are compared at once
     * @param place of the match in the run
     */
    private MatchSummary compare(TableMatch match, Pair places, int ranges, int place, Around around) {
        MatchResult result;
        RunBook book = around.book;
        RunWriter writer = book.writer();
        Limits limits = around.limits;
        Place from = places.source();
        Place to = places.target();
        MatchParts parts = writer.parts(match, around.journal);
        long expected = expectedRows(match, from);
        List<Pair> pairs = new ArrayList<>(List.of(places));
        try (Watch watch = around.watcher.begin(match, expected)) {
            if (limits.stop()) {
                throw new ToolException(ErrorKind.INCOMPLETE, "stopped on request", match.name(), "not begun");
            }
            if (asked.totals() == Totals.ALL || asked.totals() == Totals.JOB && saysTotals(match)) {
                TotalsJob.totals(wish, match, places, book, place);
            }
            int here = comparing.connectionsHere(ranges);
            for (int i = 1; i < here; i++) {
                Place source = from.another();
                try {
                    pairs.add(new Pair(source, to.another()));
                } catch (RuntimeException e) {
                    source.close();
                    throw e;
                }
            }
            if (here > 1
                    && !(pairs.get(1).source().sharesState()
                            && pairs.get(1).target().sharesState())) {
                book.note(OTHER_STATES);
            }
            Outcome outcome = comparing.compare(new Comparing.Work(
                    match,
                    wish.source(),
                    wish.target(),
                    pairs,
                    asked.settings(match, from, to, ranges).knowing(around.since.known(match)),
                    new LimitedParts(parts, limits),
                    around.context.telling(watch).stoppedBy(limits::stop),
                    expected));
            result = new MatchResult(match, Optional.of(outcome), Optional.empty());
        } catch (ToolException e) {
            result = new MatchResult(match, Optional.empty(), Optional.of(inWords(limits.told(e, match.name()))));
        } finally {
            pairs.subList(1, pairs.size()).forEach(pair -> {
                pair.source().close();
                pair.target().close();
            });
        }
        parts.join(result.outcome().isPresent());
        return MatchSummary.of(
                result,
                words(match, from, to),
                wish.narrowing().words(),
                wish.allowEmpty(),
                writer.seal(writer.findingsFile(match)));
    }

    /** What was passed over was not compared. */
    private static MatchSummary.Words words(TableMatch match, Place from, Place to) {
        MatchSummary.Words words = MatchText.words(match);
        List<String> not = new ArrayList<>(words.notCompared());
        passedOver(from.passedOver(match.source().name()), Side.SOURCE).ifPresent(not::add);
        passedOver(to.passedOver(match.target().name()), Side.TARGET).ifPresent(not::add);
        return new MatchSummary.Words(words.shape(), not, words.notes(), words.narrowed());
    }

    private static Optional<String> passedOver(List<String> records, Side side) {
        return records.isEmpty()
                ? Optional.empty()
                : Optional.of(records.size() + (records.size() == 1 ? " broken record" : " broken records") + " of the "
                        + side + ", passed over as allowed: "
                        + String.join(", ", records.subList(0, Math.min(5, records.size())))
                        + (records.size() > 5 ? " …" : ""));
    }

    /** What the run keeps of a failure are words. */
    private static ToolException inWords(ToolException failure) {
        String what = ObstacleText.what(failure);
        return what.equals(failure.what())
                ? failure
                : new ToolException(failure.kind(), what, failure.where(), failure.mend(), failure);
    }

    private boolean saysTotals(TableMatch match) {
        return wish.entryOf(match)
                .filter(e -> e.totals().isPresent()
                        || !e.expectSource().isEmpty()
                        || !e.expectTarget().isEmpty())
                .isPresent();
    }

    private static long expectedRows(TableMatch match, Place from) {
        boolean whole =
                match.source().query().isEmpty() && match.source().filters().isEmpty();
        return whole ? from.estimate(match.source().name()).rows().orElse(-1) : -1;
    }
}
