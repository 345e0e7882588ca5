package sharptally.core.compare.run;

import java.time.Duration;
import java.util.ArrayList;
import java.util.Collections;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Random;
import java.util.Set;
import java.util.function.BooleanSupplier;
import java.util.function.Consumer;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import sharptally.core.checksum.Cutting;
import sharptally.core.compare.ComparisonContext;
import sharptally.core.compare.ComparisonSettings;
import sharptally.core.compare.Method;
import sharptally.core.compare.Outcome;
import sharptally.core.compare.Pair;
import sharptally.core.compare.PartKeeper;
import sharptally.core.compare.RangeResult;
import sharptally.core.compare.RowsDone;
import sharptally.core.compare.checksum.Known;
import sharptally.core.compare.checksum.SelfCheck;
import sharptally.core.compare.checksum.SliceBounds;
import sharptally.core.compare.join.JoinComparison;
import sharptally.core.compare.method.Eligibility;
import sharptally.core.compare.method.MethodChoice;
import sharptally.core.compare.method.MethodDecision;
import sharptally.core.compare.method.UnusableMethod;
import sharptally.core.compare.record.RecordComparison;
import sharptally.core.compare.stream.OutOfOrder;
import sharptally.core.compare.stream.StreamComparison;
import sharptally.core.compare.stream.TableComparison;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.Hint;
import sharptally.core.fault.ToolException;
import sharptally.core.finding.FindingSink;
import sharptally.core.match.TableMatch;
import sharptally.core.place.ReadRequest;
import sharptally.core.place.Side;
import sharptally.core.place.part.Joins;
import sharptally.core.place.part.Obstacle;
import sharptally.core.place.part.Seek;
import sharptally.core.range.DifferenceHistogram;
import sharptally.core.range.KeyRange;
import sharptally.core.shape.RowFilter;

/**
 * Compares one match range by range. The key is cut into ranges where both databases can seek in it; each range is
 * compared by itself, by one of several workers, and kept as finished. Ranges that an earlier attempt had finished are
 * not compared again. Results are put together in key order, so they do not depend on which worker was faster.
 *
 * <p>The method may change from range to range: by {@link Method#AUTO}, ranges are streamed from then on when checksums
 * turn out to cost more than reading was seen to cost.
 */
public final class RangedComparison {
    private static final double CLEARLY = 1.15;
    private static final int MAX_RANGES = 2_000;

    /** Ranges of an earlier comparison are kept until they hold so many times as many rows as new ones would. */
    private static final long OUTGROWN = 4;

    private final TableMatch match;
    private final List<Pair> workers;
    private final SelfCheck selfCheck = new SelfCheck(new Random());
    private final ComparisonContext context;
    private ComparisonSettings settings;
    private boolean mistrusted;
    private boolean few;
    private final PartKeeper keeper;
    private final Eligibility eligibility;
    private final List<String> remarks = Collections.synchronizedList(new ArrayList<>());
    private final RowsDone done;
    private volatile Method method = Method.STREAM;
    private SliceBounds bounds = SliceBounds.UNKNOWN;
    private volatile double streamSecondsPerRow = Double.MAX_VALUE;

    /**
     * @param workers both places as each worker has them, the first ones also used for what is asked once
     */
    public RangedComparison(
            TableMatch match,
            List<Pair> workers,
            ComparisonSettings settings,
            PartKeeper keeper,
            ComparisonContext context) {
        this.match = match;
        this.workers = List.copyOf(workers);
        this.settings = settings;
        this.keeper = keeper;
        this.context = context;
        this.done = new RowsDone(context.progress());
        this.eligibility =
                new Eligibility(match, workers.get(0).source(), workers.get(0).target());
    }

    /**
     * @param rows about how many the source has; -1 where unknown
     * @throws ToolException when a side can't be read to its end, or a stop was asked for; what the keeper holds by then
     *     proves nothing of the ranges that are not finished
     */
    public Outcome run(long rows) {
        long began = System.nanoTime();
        try {
            return outcome(trusted(rows), began);
        } catch (OutOfOrder e) {
            remarks.clear();
            if (!settings.keys().holdsAll()) {
                throw new ToolException(
                        ErrorKind.READ,
                        "the " + e.side() + " orders this key in another way than we do, so a part of it can't be read",
                        match.name(),
                        "compare all keys");
            }
            keeper.restart();
            settings = settings.knowing(Optional.empty());
            return outcome(List.of(whole(0)), began);
        }
    }

    /** What was found by a method that was found to say the same of rows that differ is thrown away. */
    private List<RangeResult> trusted(long rows) {
        try {
            return runRanges(rows);
        } catch (SelfCheck.Mistrusted e) {
            mistrusted = true;
            remarks.clear();
            remarks.add(
                    "checksums said the same of rows that differ (keys " + e.keys() + "): a fault of this program or of"
                            + " the database's functions; all rows were read instead, please report it");
            keeper.restart();
            settings = settings.by(Method.STREAM).knowing(Optional.empty());
            return runRanges(rows);
        }
    }

    private Outcome outcome(List<RangeResult> parts, long began) {
        settings.known().flatMap(Known::told).ifPresent(remarks::add);
        RangeResult all = RangeResults.of(parts, remarks);
        List<DifferenceHistogram.Cell> damage = all.damage();
        boolean ended = !damage.isEmpty()
                && settings.changedSince().isEmpty()
                && settings.sample().isEmpty()
                && eligibility.rangeProblem().isEmpty();
        List<DifferenceHistogram.Cell> where =
                ended ? new KeyEnds(match, workers.get(0), settings.keys()).around(damage) : damage;
        return Outcome.of(
                new RangeResult(all.counts(), all.method(), where, all.remarks()),
                mistrusted,
                Duration.ofNanos(System.nanoTime() - began));
    }

    /** The whole match over the first connections, with whatever sorting it needs. */
    private RangeResult whole(int range) {
        RangeResult part;
        Pair places = workers.get(0);
        try (PartKeeper.Sink sink = keeper.open(range)) {
            part = new TableComparison(match, places, settings.sample(), context, this::unsorted)
                    .part(settings.keys().holdsAll() ? List.of() : List.of(settings.keys()), sink);
        }
        keeper.finish(range, part);
        return part;
    }

    /** Rows in any order, where there are enough of them for it to be worth it. */
    private Optional<RangeResult> unsorted(Set<Side> sortHere, FindingSink sink) {
        boolean plain = settings.sample().isEmpty() && context.limit().isNone() && settings.method() == Method.AUTO;
        return plain && !few && eligibility.canHash()
                ? RecordComparison.ofValues(match, workers.get(0), sortHere, context)
                        .run(sink)
                : Optional.empty();
    }

    /** The whole match by its records, where that can be. */
    private RangeResult byRecords(int range) {
        if (settings.sample().isPresent() || !context.limit().isNone()) {
            return whole(range);
        }
        Optional<RangeResult> part;
        try (PartKeeper.Sink sink = keeper.open(range)) {
            part = RecordComparison.asWritten(match, workers.get(0), context).run(sink);
        }
        part.ifPresent(p -> keeper.finish(range, p));
        return part.orElseGet(() -> whole(range));
    }

    private List<RangeResult> runRanges(long rows) {
        few = MethodChoice.isFew(rows);
        Optional<Obstacle> noRanges = eligibility.rangeProblem();
        if (noRanges.isPresent() && !settings.keys().holdsAll() && eligibility.canNarrow()) {
            return List.of(whole(0));
        } else if (noRanges.isPresent() && !settings.keys().holdsAll()) {
            throw new UnusableMethod("can't compare a part of the key", noRanges.get(), match.name(), Hint.ALL_KEYS);
        }
        if (settings.changedSince().isPresent()) {
            return List.of(changed(settings.changedSince().get(), noRanges));
        }
        Optional<List<KeyRange>> earlier = keeper.ranges();
        if (earlier.isPresent()
                && IntStream.range(0, earlier.get().size())
                        .allMatch(i -> keeper.finished(i).isPresent())) {
            return finished(earlier.get().size());
        }
        if (settings.known().isPresent()
                && settings.method() == Method.AUTO
                && eligibility.checksumProblem().isEmpty()) {
            // What was found before is told by checksums alone.
            settings = settings.by(Method.CHECKSUM);
        }
        MethodDecision choice =
                new MethodChoice(match, workers.get(0), settings, context.stopAsked()).choose(rows, false);
        method = choice.method();
        choice.candidates().stream()
                .filter(c -> c.method() == Method.STREAM && c.rowsPerSecond() > 0)
                .forEach(c -> streamSecondsPerRow = 1 / c.rowsPerSecond());
        List<KeyRange> ranges = earlier.orElseGet(() -> cut(noRanges.isPresent(), rows));
        if (earlier.isEmpty()) {
            keeper.cut(ranges);
        }
        if (ranges.size() == 1 && method == Method.STREAM) {
            return List.of(choice.why() == MethodDecision.Reason.RECORDS ? byRecords(0) : whole(0));
        }
        long rowsPerRange = rows > 0 ? Math.max(1, rows / ranges.size()) : settings.rowsPerRange();
        work(ranges, rowsPerRange);
        return finished(ranges.size());
    }

    private RangeResult changed(ComparisonSettings.Since since, Optional<Obstacle> noRanges) {
        if (noRanges.isPresent()) {
            throw new UnusableMethod("can't look rows up by their key", noRanges.get(), match.name(), Hint.CONDITION);
        }
        Pair places = workers.get(0);
        StreamComparison stream =
                new StreamComparison(match, places, EnumSet.noneOf(Side.class), settings.sample(), remarks, context);
        RangeResult part;
        try (PartKeeper.Sink sink = keeper.open(0)) {
            part = new ChangedRows(
                            match,
                            places,
                            match.source()
                                    .and(new RowFilter.Compared(
                                            since.source(), RowFilter.Comparison.AT_LEAST, since.ofSource())),
                            match.target()
                                    .and(new RowFilter.Compared(
                                            since.target(), RowFilter.Comparison.AT_LEAST, since.ofTarget())))
                    .compare(settings.keys(), stream, sink);
        }
        keeper.finish(0, part);
        return part;
    }

    private List<RangeResult> finished(int ranges) {
        return IntStream.range(0, ranges)
                .mapToObj(i -> keeper.finished(i)
                        .orElseThrow(() -> new IllegalStateException("range " + i + " is not finished")))
                .toList();
    }

    private List<KeyRange> cut(boolean impossible, long rows) {
        Optional<List<KeyRange>> before = settings.known()
                .flatMap(known -> known.ranges(settings.keys()))
                .filter(ranges -> rows <= OUTGROWN * settings.rowsPerRange() * ranges.size());
        if (!impossible && before.isPresent()) {
            return before.get();
        }
        boolean seeks = !impossible && eligibility.seek() == Seek.BY_INDEX;
        long perRange = Math.max(settings.rowsPerRange(), rows / MAX_RANGES);
        // Of a join, the connections of both sides take ranges of their own.
        long takers = method == Method.JOINED ? 2L * settings.workers() : settings.workers();
        if (!seeks || rows >= 0 && rows < 2 * perRange && takers == 1) {
            return List.of(settings.keys());
        }
        if (takers > 1 && rows > 0) {
            perRange = Math.max(1_000, Math.min(perRange, rows / (4 * takers)));
        }
        if (method == Method.CHECKSUM && !eligibility.isWholeNumber()) {
            bounds = SliceBounds.of(
                    workers.get(0).source().seeking().orElseThrow(),
                    new ReadRequest(match.source(), eligibility.key(Side.SOURCE), eligibility.key(Side.SOURCE))
                            .within(settings.keys().holdsAll() ? List.of() : List.of(settings.keys())),
                    rows);
            if (!bounds.keys().isEmpty()) {
                return bounds.ranges(settings.keys(), perRange);
            }
        }
        return new Cutting(
                        match.source(),
                        eligibility.key(Side.SOURCE),
                        workers.get(0).source(),
                        true)
                .cut(
                        settings.keys(),
                        perRange,
                        eligibility.isWholeNumber() ? OptionalLong.of(rows) : OptionalLong.empty());
    }

    private void work(List<KeyRange> ranges, long rowsPerRange) {
        if (method == Method.JOINED) {
            // One server does all the work, so the connections of both sides are used for ranges of their own.
            List<Joiner> joiners = workers.stream()
                    .flatMap(p -> Stream.of(
                            new Joiner(p, p.source().joins().orElseThrow()),
                            new Joiner(p, p.target().joins().orElseThrow())))
                    .toList();
            each(
                    joiners,
                    ranges.size(),
                    (joiner, i, stop) -> {
                        if (method == Method.JOINED) {
                            join(joiner, task(i, ranges.get(i), rowsPerRange), stop);
                        }
                    },
                    joiner -> joiner.pair().rest());
            method = Method.STREAM;
        }
        each(
                workers,
                ranges.size(),
                (places, i, stop) -> range(task(i, ranges.get(i), rowsPerRange), places, stop),
                Pair::rest);
    }

    /** Who has one of a pair's connections joined. */
    private record Joiner(Pair pair, Joins joins) {}

    /** Carries a task out for each range that is not finished. */
    private <T> void each(List<T> members, int ranges, WorkerPool.Task<T> task, Consumer<T> done) {
        WorkerPool.run(
                members,
                ranges,
                (member, i, failed) -> {
                    BooleanSupplier stop = () -> context.stopAsked().getAsBoolean() || failed.getAsBoolean();
                    if (stop.getAsBoolean()) {
                        throw StreamComparison.stopped(match);
                    }
                    if (keeper.finished(i).isEmpty()) {
                        task.run(member, i, stop);
                    }
                },
                done);
    }

    private RangeTask task(int number, KeyRange range, long rows) {
        return new RangeTask(match, number, range, rows, method, settings.sample());
    }

    private RangeRunner runner(Pair places, BooleanSupplier stop) {
        return new RangeRunner(
                places,
                selfCheck,
                settings.known(),
                bounds,
                context.telling(done.ofPart()).stoppedBy(stop));
    }

    /** What can't be joined is left to be read. */
    private void join(Joiner joiner, RangeTask task, BooleanSupplier stop) {
        // One of them has nothing to do meanwhile.
        joiner.pair().rest();
        long began = System.nanoTime();
        RangeResult part;
        try (PartKeeper.Sink sink = keeper.open(task.number())) {
            part = runner(joiner.pair(), stop).join(task, joiner.joins(), sink);
        } catch (ToolException e) {
            if (e.kind() != ErrorKind.READ) {
                throw e;
            }
            remarks.add(RangeRunner.insteadOf(task.method(), e));
            method = Method.STREAM;
            return;
        } catch (JoinComparison.MovedOn e) {
            remarks.add(RangeRunner.MOVED_ON);
            return;
        }
        finish(task.number(), part, began);
    }

    private void finish(int number, RangeResult part, long began) {
        keeper.finish(number, part);
        done.finished(part.counts());
        double seconds = (System.nanoTime() - began) / 1e9;
        double expected = streamSecondsPerRow * part.counts().sourceRows();
        if (settings.method() == Method.AUTO && part.counts().sourceRows() > 0 && seconds > CLEARLY * expected) {
            method = Method.STREAM;
        }
    }

    private void range(RangeTask task, Pair places, BooleanSupplier stop) {
        long began = System.nanoTime();
        RangeResult part;
        RangeRunner runner = runner(places, stop);
        try (PartKeeper.Sink sink = keeper.open(task.number())) {
            part = runner.run(task, sink);
        }
        if (runner.hasReadInstead()) {
            method = Method.STREAM;
        }
        finish(task.number(), part, began);
    }
}
