package sharptally.core.compare.run;

import java.time.Duration;
import java.util.ArrayList;
import java.util.Collections;
import java.util.EnumSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Random;
import java.util.Set;
import java.util.function.BooleanSupplier;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import sharptally.core.checksum.Cutting;
import sharptally.core.compare.ComparisonSettings;
import sharptally.core.compare.Counts;
import sharptally.core.compare.Method;
import sharptally.core.compare.Outcome;
import sharptally.core.compare.Pair;
import sharptally.core.compare.PartKeeper;
import sharptally.core.compare.Progress;
import sharptally.core.compare.RangeResult;
import sharptally.core.compare.RowsDone;
import sharptally.core.compare.checksum.SelfCheck;
import sharptally.core.compare.checksum.SumComparison;
import sharptally.core.compare.join.JoinComparison;
import sharptally.core.compare.method.Eligibility;
import sharptally.core.compare.method.MethodChoice;
import sharptally.core.compare.method.MethodDecision;
import sharptally.core.compare.method.UnusableMethod;
import sharptally.core.compare.stream.OutOfOrder;
import sharptally.core.compare.stream.StreamComparison;
import sharptally.core.compare.stream.TableComparison;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.Hint;
import sharptally.core.fault.ToolException;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Place;
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

    private final TableMatch match;
    private final List<Pair> workers;
    private final SelfCheck selfCheck = new SelfCheck(new Random());
    private ComparisonSettings manner;
    private boolean mistrusted;
    private final PartKeeper keeper;
    private final Progress progress;
    private final BooleanSupplier stopAsked;
    private final Eligibility eligibility;
    private final List<String> remarks = Collections.synchronizedList(new ArrayList<>());
    private final RowsDone done;
    private volatile Method method = Method.STREAM;
    private volatile double streamSecondsPerRow = Double.MAX_VALUE;

    /**
     * @param sources the source as each worker has it, the first one also used for what is asked once
     * @param targets as many of the target
     * @param stopAsked looked at now and then; once true, the comparison ends with an {@code INCOMPLETE} failure
     */
    public RangedComparison(
            TableMatch match,
            List<Place> sources,
            List<Place> targets,
            ComparisonSettings manner,
            PartKeeper keeper,
            Progress progress,
            BooleanSupplier stopAsked) {
        this.match = match;
        this.workers = IntStream.range(0, sources.size())
                .mapToObj(i -> new Pair(sources.get(i), targets.get(i)))
                .toList();
        this.manner = manner;
        this.keeper = keeper;
        this.progress = progress;
        this.stopAsked = stopAsked;
        this.done = new RowsDone(progress);
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
            if (!manner.keys().holdsAll()) {
                throw new ToolException(
                        ErrorKind.READ,
                        "the " + e.side() + " orders this key in another way than we do, so a part of it can't be read",
                        match.name(),
                        "compare all keys");
            }
            keeper.restart();
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
            manner = manner.by(Method.STREAM);
            return runRanges(rows);
        }
    }

    private Outcome outcome(List<RangeResult> parts, long began) {
        Counts counts =
                parts.stream().map(RangeResult::counts).reduce(Counts::plus).orElseGet(Counts::none);
        List<DifferenceHistogram.Cell> damage = new ArrayList<>();
        Set<String> methods = new LinkedHashSet<>();
        Set<String> told = new LinkedHashSet<>(remarks);
        for (RangeResult part : parts) {
            damage.addAll(part.damage());
            methods.add(part.method());
            told.addAll(part.remarks());
        }
        RangeResult all = new RangeResult(counts, String.join(" and ", methods), damage, List.copyOf(told));
        return Outcome.of(all, mistrusted, Duration.ofNanos(System.nanoTime() - began));
    }

    /** The whole match over the first connections, with whatever sorting it needs. */
    private RangeResult whole(int range) {
        RangeResult part;
        Pair places = workers.get(0);
        try (PartKeeper.Sink sink = keeper.open(range)) {
            part = new TableComparison(
                            match,
                            places.source(),
                            places.target(),
                            progress,
                            stopAsked,
                            manner.slowing(),
                            manner.sample())
                    .part(manner.keys().holdsAll() ? List.of() : List.of(manner.keys()), sink);
        }
        keeper.finish(range, part);
        return part;
    }

    private List<RangeResult> runRanges(long rows) {
        Optional<Obstacle> noRanges = eligibility.rangeProblem();
        if (noRanges.isPresent() && !manner.keys().holdsAll()) {
            throw new UnusableMethod("can't compare a part of the key", noRanges.get(), match.name(), Hint.ALL_KEYS);
        }
        if (manner.changedSince().isPresent()) {
            return List.of(changed(manner.changedSince().get(), noRanges));
        }
        Optional<List<KeyRange>> earlier = keeper.ranges();
        if (earlier.isPresent()
                && IntStream.range(0, earlier.get().size())
                        .allMatch(i -> keeper.finished(i).isPresent())) {
            return finished(earlier.get().size());
        }
        MethodDecision choice = new MethodChoice(match, workers.get(0), manner, stopAsked).choose(rows, false);
        method = choice.method();
        choice.candidates().stream()
                .filter(c -> c.method() == Method.STREAM && c.rowsPerSecond() > 0)
                .forEach(c -> streamSecondsPerRow = 1 / c.rowsPerSecond());
        List<KeyRange> ranges = earlier.orElseGet(() -> cut(noRanges.isPresent(), rows));
        if (earlier.isEmpty()) {
            keeper.cut(ranges);
        }
        if (ranges.size() == 1 && method == Method.STREAM) {
            return List.of(whole(0));
        }
        long rowsPerRange = rows > 0 ? Math.max(1, rows / ranges.size()) : manner.rowsPerRange();
        work(ranges, rowsPerRange);
        return finished(ranges.size());
    }

    private RangeResult changed(ComparisonSettings.Since since, Optional<Obstacle> noRanges) {
        if (noRanges.isPresent()) {
            throw new UnusableMethod("can't look rows up by their key", noRanges.get(), match.name(), Hint.CONDITION);
        }
        Pair places = workers.get(0);
        StreamComparison stretch = stretch(places, progress, stopAsked);
        RangeResult part;
        try (PartKeeper.Sink sink = keeper.open(0)) {
            part = new ChangedRows(
                            match,
                            places,
                            match.source().and(new RowFilter.AtLeast(since.source(), since.ofSource())),
                            match.target().and(new RowFilter.AtLeast(since.target(), since.ofTarget())))
                    .compare(manner.keys(), stretch, sink);
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
        boolean seeks = !impossible && eligibility.seek() == Seek.BY_INDEX;
        long perRange = Math.max(manner.rowsPerRange(), rows / MAX_RANGES);
        // Of a join, the connections of both sides take ranges of their own.
        long crew = method == Method.JOINED ? 2L * manner.workers() : manner.workers();
        if (!seeks || rows >= 0 && rows < 2 * perRange && crew == 1) {
            return List.of(manner.keys());
        }
        if (crew > 1 && rows > 0) {
            perRange = Math.max(1_000, Math.min(perRange, rows / (4 * crew)));
        }
        return new Cutting(
                        match.source(),
                        eligibility.key(Side.SOURCE),
                        workers.get(0).source())
                .cut(
                        manner.keys(),
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
            each(joiners, ranges.size(), (joiner, i, stop) -> {
                if (method == Method.JOINED) {
                    join(joiner, i, ranges.get(i), rowsPerRange, stop);
                }
            });
            method = Method.STREAM;
        }
        each(workers, ranges.size(), (places, i, stop) -> range(i, ranges.get(i), rowsPerRange, places, stop));
    }

    /** Who has one of a pair's connections joined. */
    private record Joiner(Pair pair, Joins joins) {}

    /** Carries a task out for each range that is not finished. */
    private <T> void each(List<T> members, int ranges, WorkerPool.Task<T> task) {
        WorkerPool.run(members, ranges, (member, i, failed) -> {
            BooleanSupplier stop = () -> stopAsked.getAsBoolean() || failed.getAsBoolean();
            if (stop.getAsBoolean()) {
                throw StreamComparison.stopped(match);
            }
            if (keeper.finished(i).isEmpty()) {
                task.run(member, i, stop);
            }
        });
    }

    /** What can't be joined is left to be read. */
    private void join(Joiner joiner, int number, KeyRange range, long rows, BooleanSupplier stop) {
        long began = System.nanoTime();
        Pair pair = joiner.pair();
        RangeResult part;
        try (PartKeeper.Sink sink = keeper.open(number)) {
            manner.slowing().await(2 * rows);
            part = JoinComparison.compare(
                    match,
                    JoinComparison.request(match, pair, range),
                    joiner.joins(),
                    stretch(pair, done.ofPart(), stop),
                    sink);
        } catch (ToolException e) {
            if (e.kind() != ErrorKind.READ) {
                throw e;
            }
            readInstead(e);
            return;
        } catch (JoinComparison.MovedOn e) {
            remarks.add("rows changed while they were joined, and were read instead");
            return;
        }
        finish(number, part, began);
    }

    /** Such as after a value beyond what an expression of ours can bear; reading can bear it. */
    private void readInstead(ToolException e) {
        remarks.add("method " + method + " failed and rows were read instead: " + e.getMessage());
        method = Method.STREAM;
    }

    private void finish(int number, RangeResult part, long began) {
        keeper.finish(number, part);
        done.finished(part.counts());
        double seconds = (System.nanoTime() - began) / 1e9;
        double expected = streamSecondsPerRow * part.counts().sourceRows();
        if (manner.method() == Method.AUTO && part.counts().sourceRows() > 0 && seconds > CLEARLY * expected) {
            method = Method.STREAM;
        }
    }

    private StreamComparison stretch(Pair places, Progress told, BooleanSupplier stop) {
        return new StreamComparison(
                match,
                places.source(),
                places.target(),
                told,
                stop,
                EnumSet.noneOf(Side.class),
                remarks,
                manner.slowing(),
                manner.sample());
    }

    private void range(int number, KeyRange range, long rows, Pair places, BooleanSupplier stop) {
        Method now = method;
        long began = System.nanoTime();
        StreamComparison stretch = stretch(places, done.ofPart(), stop);
        RangeResult part;
        try (PartKeeper.Sink sink = keeper.open(number)) {
            part = compare(now, range, rows, places, stretch, sink);
        }
        finish(number, part, began);
    }

    private RangeResult compare(
            Method how, KeyRange range, long rows, Pair places, StreamComparison stretch, PartKeeper.Sink sink) {
        try {
            if (how == Method.CHECKSUM) {
                return new SumComparison(match, places, stretch, manner.slowing(), selfCheck)
                        .compare(range, rows, sink);
            }
        } catch (ToolException e) {
            if (e.kind() != ErrorKind.READ) {
                throw e;
            }
            readInstead(e);
            sink.restart();
        }
        return stretch.merge(range.holdsAll() ? List.of() : List.of(range), sink);
    }
}
