package sharptally.api;

import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.function.BooleanSupplier;
import sharptally.api.job.CompareJob;
import sharptally.api.job.CompareRequest;
import sharptally.api.job.JobRequest;
import sharptally.api.job.Narrowing;
import sharptally.api.job.RequestedLimits;
import sharptally.api.job.RequestedTables;
import sharptally.core.match.TableMatch;
import sharptally.core.match.text.Glob;
import sharptally.formats.run.RunFolder;

/**
 * A comparison before it is run; each call says more of it. Used by one thread. Interrupting the thread that runs it ends
 * it: what was not compared by then is told as {@link Verdict#INCOMPLETE}.
 */
public final class Comparison {
    private final SharpTally tally;
    private final JobInput input;
    private List<String> only = List.of();
    private List<String> key = List.of();
    private List<String> leaveOut = List.of();
    private List<String> leaveOutTables = List.of();
    private Narrowing narrowing = Narrowing.NONE;
    private boolean allowEmpty;
    private boolean snapshot = true;
    private Optional<Long> snapshotSeconds = Optional.empty();
    private Optional<Integer> workers = Optional.empty();
    private Method method = Method.AUTO;
    private Optional<Long> limit = Optional.empty();
    private Optional<Long> seconds = Optional.empty();
    private Optional<Long> pace = Optional.empty();
    private Optional<Path> runs = Optional.empty();
    private Optional<Path> accepted = Optional.empty();
    private boolean integrity;
    private boolean declarations;
    private boolean byPartition;
    private ProgressListener listener = new ProgressListener() {};
    private BooleanSupplier stop = () -> false;

    Comparison(SharpTally tally, JobInput input) {
        this.tally = tally;
        this.input = input;
        allowEmpty = input.request().allowEmpty();
    }

    /** Only these tables of the source; {@code *} stands for any letters. */
    public Comparison only(String... tables) {
        only = List.of(tables);
        return this;
    }

    /** The key columns of the one table that is compared. Default: the primary key, else a unique one. */
    public Comparison key(String... columns) {
        key = List.of(columns);
        return this;
    }

    /** Columns that are not compared; {@code *} stands for any letters, {@code type:NAME} for all of a type. */
    public Comparison leaveOut(String... columns) {
        leaveOut = List.of(columns);
        return this;
    }

    /** Tables of either side that are not compared. */
    public Comparison leaveOutTables(String... tables) {
        leaveOutTables = List.of(tables);
        return this;
    }

    /** Only rows that meet a condition, in SQL of both sides. */
    public Comparison where(String condition) {
        narrowing = new Narrowing(
                Optional.of(condition),
                narrowing.keys(),
                narrowing.sample(),
                narrowing.changedSince(),
                narrowing.conditions());
        return this;
    }

    /** Only rows with keys from one up to but without another, as {@code "1000..2000"}; either end may be left out. */
    public Comparison keyRange(String range) {
        narrowing = new Narrowing(
                narrowing.where(),
                Optional.of(range),
                narrowing.sample(),
                narrowing.changedSince(),
                narrowing.conditions());
        return this;
    }

    /**
     * Only a share of the rows, chosen by a hash of their keys.
     *
     * @param share above 0, up to 1
     */
    public Comparison sample(double share) {
        if (!(share > 0 && share <= 1)) {
            throw SharpTallyException.usage("a sample is a share above 0 and up to 1, not " + share);
        }
        narrowing = new Narrowing(
                narrowing.where(),
                narrowing.keys(),
                Optional.of(share),
                narrowing.changedSince(),
                narrowing.conditions());
        return this;
    }

    /**
     * Only rows of either side that meet a condition which means the same in every database, such as {@code level_m > 5} or
     * {@code remark is null}; of several, all must be met.
     */
    public Comparison rowsWith(String condition) {
        List<String> all = new ArrayList<>(narrowing.conditions());
        all.add(condition);
        narrowing =
                new Narrowing(narrowing.where(), narrowing.keys(), narrowing.sample(), narrowing.changedSince(), all);
        return this;
    }

    /** Only rows that hold this value, or a greater one, in a column of either side. */
    public Comparison changedSince(String column, String value) {
        narrowing = new Narrowing(
                narrowing.where(),
                narrowing.keys(),
                narrowing.sample(),
                Optional.of(new Narrowing.ChangedSince(column, value)),
                narrowing.conditions());
        return this;
    }

    /** It is fine when what narrows the rows leaves none at all; else that is {@link Verdict#INCOMPLETE}. */
    public Comparison allowEmpty() {
        allowEmpty = true;
        return this;
    }

    /** Each table may be read in a state of its own, so that no long transaction is held. */
    public Comparison withoutSnapshot() {
        snapshot = false;
        return this;
    }

    /**
     * No transaction of ours gets older, but by one statement: reading goes on in a later state of the database then.
     *
     * @param age a second at least
     */
    public Comparison maxSnapshotAge(Duration age) {
        if (age.toSeconds() < 1) {
            throw new IllegalArgumentException("a second at least, not " + age);
        }
        snapshotSeconds = Optional.of(age.toSeconds());
        return this;
    }

    /** How many tables, or ranges of one, are worked on at once. Default: 1. */
    public Comparison workers(int wanted) {
        if (wanted < 1 || wanted > 99) {
            throw SharpTallyException.usage("workers are from 1 to 99, not " + wanted);
        }
        workers = Optional.of(wanted);
        return this;
    }

    public Comparison method(Method wanted) {
        method = wanted;
        return this;
    }

    /** Ends after so many differing rows, with {@link Verdict#INCOMPLETE}. */
    public Comparison limit(long differences) {
        limit = Optional.of(differences);
        return this;
    }

    /** Ends after this time, with {@link Verdict#INCOMPLETE}. */
    public Comparison stopAfter(Duration time) {
        seconds = Optional.of(Math.max(1, time.toSeconds()));
        return this;
    }

    /** Asks each side for no more than so many rows a second. */
    public Comparison pace(long rowsPerSecond) {
        pace = Optional.of(rowsPerSecond);
        return this;
    }

    /**
     * Keeps the result as a run folder of its own in this folder, from which the command line works as well. Default: it is
     * kept in a temporary folder until the result is closed.
     */
    public Comparison keepIn(Path folder) {
        runs = Optional.of(folder);
        return this;
    }

    /** Looks at foreign keys and other constraints as well, those of either side on both. */
    public Comparison integrity() {
        integrity = true;
        return this;
    }

    /** Looks at what tables are declared to be as well: keys, indexes, checks, defaults, triggers, rights. */
    public Comparison declarations() {
        declarations = true;
        return this;
    }

    /** Compares each partition by itself, of tables of which a side declares some. */
    public Comparison byPartition() {
        byPartition = true;
        return this;
    }

    /** A file of differences that are known and accepted for now; by default the one that the job file names. */
    public Comparison accepted(Path file) {
        accepted = Optional.of(file);
        return this;
    }

    public Comparison listener(ProgressListener wanted) {
        listener = wanted;
        return this;
    }

    /** Looked at now and then; once true, the job ends with {@link Verdict#INCOMPLETE}. */
    public Comparison stopWhen(BooleanSupplier asked) {
        stop = asked;
        return this;
    }

    /**
     * Compares.
     *
     * @return to be closed by the caller
     * @throws SharpTallyException when nothing could be compared at all; a failure of one of several tables is in the
     *     result instead
     */
    public ComparisonResult run() {
        return Work.done(interrupted -> {
            Path folder = runs.orElseGet(() -> Folders.temporary(tally.context().temporary()));
            boolean kept = false;
            try {
                JobRequest request = request();
                RunFolder run = new CompareJob(request, asked(request), folder, workers.orElse(1))
                        .run(
                                tally.context(),
                                Optional.empty(),
                                this::watch,
                                () -> interrupted.getAsBoolean() || stop.getAsBoolean());
                kept = true;
                return new ComparisonResult(
                        tally, run, runs.isPresent() ? Optional.empty() : Optional.of(folder), request);
            } finally {
                if (!kept && runs.isEmpty()) {
                    Folders.remove(folder);
                }
            }
        });
    }

    private JobRequest request() {
        JobRequest from = input.request();
        JobRequest request = new JobRequest(
                from.source(),
                from.target(),
                from.jobFile(),
                key,
                leaveOut,
                globs(only),
                globs(leaveOutTables),
                narrowing.dividing(byPartition),
                allowEmpty);
        return request.reading(asked(request));
    }

    private static List<Glob> globs(List<String> names) {
        return names.stream().map(Glob::new).toList();
    }

    private CompareRequest asked(JobRequest request) {
        boolean byFile = input.jobFile().isPresent();
        return new CompareRequest(
                new RequestedTables(
                        Optional.of(request.source().label().toString()).filter(place -> !byFile),
                        Optional.of(request.target().label().toString()).filter(place -> !byFile),
                        input.jobFile().map(Path::toString),
                        only,
                        key,
                        leaveOut,
                        leaveOutTables,
                        Optional.empty()),
                narrowing.dividing(byPartition),
                allowEmpty,
                snapshot,
                CompareJob.Totals.JOB,
                Arrays.stream(sharptally.core.compare.Method.values())
                        .filter(m -> m.name().equals(method.name()))
                        .findFirst()
                        .orElseThrow(),
                Optional.empty(),
                new RequestedLimits(workers, limit, seconds, pace, snapshotSeconds),
                new CompareRequest.Besides(accepted.map(Path::toString), integrity, declarations, Optional.empty()));
    }

    private CompareJob.Watch watch(TableMatch match, long expectedRows) {
        listener.begins(match.name(), expectedRows);
        return new CompareJob.Watch() {
            @Override
            public void rows(long source, long target) {
                listener.compared(match.name(), source, target);
            }

            @Override
            public void close() {
                listener.ends(match.name());
            }
        };
    }
}
