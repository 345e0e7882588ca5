package sharptally.core.compare.method;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.function.BooleanSupplier;
import java.util.function.Supplier;
import java.util.stream.IntStream;
import sharptally.core.compare.ComparisonSettings;
import sharptally.core.compare.Method;
import sharptally.core.compare.Pair;
import sharptally.core.compare.join.JoinComparison;
import sharptally.core.compare.method.MethodDecision.Reason;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.Hint;
import sharptally.core.fault.ToolException;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Place;
import sharptally.core.place.ReadRequest;
import sharptally.core.place.Side;
import sharptally.core.place.part.Joins;
import sharptally.core.place.part.Obstacle;
import sharptally.core.place.part.Seek;
import sharptally.core.place.part.SumsRequest;
import sharptally.core.range.KeyRange;
import sharptally.core.range.RangeSum;
import sharptally.core.rows.Column;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowSource;
import sharptally.core.types.Value;

/**
 * Chooses the method for a match: finds out which ones can be used, and takes a join where one database sees both tables,
 * checksums where both sides have the same hash functions: neither sends more than what differs, nor costs a server more
 * than reading would. Else each is timed on the first rows of the table, and the one is taken that promises to be done
 * first. The sample also shows how much crosses the links.
 */
public final class MethodChoice {
    private static final long SAMPLE_ROWS = 32_768;
    /** How many of them are summed. */
    private static final long SUMMED_ROWS = SAMPLE_ROWS / 4;

    private static final long SLICE = 1_024;
    /** Below this many rows, the sample would cost more than a wrong choice. */
    private static final long FEW_ROWS = 4 * SAMPLE_ROWS;
    /** Below this many cells, asking what can be used would. */
    private static final long FEW_CELLS = 20 * SAMPLE_ROWS;
    /** From how many rows on a second trial is worth its time. */
    private static final long MANY_ROWS = 60 * SAMPLE_ROWS;

    /** What a row of a slice that differs costs on top of being hashed: it is hashed again, and some are read. */
    private static final double COST_OF_DIFFERING = 1.5;

    /** How many times as fast as the next one a method must be for one trial to be enough. */
    private static final double CLEARLY = 1.5;

    private static final long ROWS_WHERE_UNKNOWN = 1_000_000;
    private static final int BYTES_PER_SUM = 48;
    /** The part of a sample that is read before the time is taken. */
    private static final double UNTIL_WARM = 0.7;

    private static final double NANOS_PER_SECOND = 1e9;

    private final TableMatch match;
    private final Pair places;
    private final Eligibility eligibility;
    private final ComparisonSettings manner;
    private final BooleanSupplier stopAsked;

    public MethodChoice(TableMatch match, Pair places, ComparisonSettings manner, BooleanSupplier stopAsked) {
        this.match = match;
        this.places = places;
        this.manner = manner;
        this.stopAsked = stopAsked;
        this.eligibility = new Eligibility(match, places.source(), places.target());
    }

    /** Over one connection per side. */
    public static MethodChoice of(
            TableMatch match, Place source, Place target, ComparisonSettings manner, BooleanSupplier stopAsked) {
        return new MethodChoice(match, new Pair(source, target), manner, stopAsked);
    }

    /** Whether so many rows are so few that they are best just read; not where it is unknown, which is -1. */
    public static boolean isFew(long rows) {
        return rows >= 0 && rows < FEW_ROWS;
    }

    /**
     * @param rows about how many the source has; -1 where unknown
     * @param measured whether candidates are to be timed even where there is no choice
     * @throws ToolException when the user wants a method that can't be used
     */
    public MethodDecision choose(long rows, boolean measured) {
        boolean wanted = manner.method() != Method.AUTO;
        boolean few = isFew(rows);
        boolean small = few && rows * match.pairs().size() < FEW_CELLS;
        if (small && !wanted && !measured) {
            // What speaks against the others need not be asked of the databases.
            return new MethodDecision(Method.STREAM, Reason.FEW_ROWS, List.of(), rows);
        }
        Optional<Obstacle> noChecksum = eligibility.checksumProblem();
        Optional<Obstacle> noJoin = eligibility.joinProblem();
        Optional<Obstacle> refused = manner.method() == Method.CHECKSUM
                ? noChecksum
                : manner.method() == Method.JOINED ? noJoin : Optional.empty();
        if (refused.isPresent()) {
            throw new UnusableMethod(
                    "can't compare by method " + manner.method(), refused.get(), match.name(), Hint.OTHER_METHOD);
        }
        boolean alone = noChecksum.isPresent() && noJoin.isPresent();
        Optional<MethodDecision> known = wanted
                ? Optional.of(new MethodDecision(manner.method(), Reason.ASKED_FOR, List.of(), rows))
                : alone
                        ? Optional.of(new MethodDecision(
                                Method.STREAM,
                                !few && eligibility.hasRecords() ? Reason.RECORDS : Reason.NO_OTHER,
                                List.of(),
                                rows))
                        : small
                                ? Optional.of(new MethodDecision(Method.STREAM, Reason.FEW_ROWS, List.of(), rows))
                                : plainly(noChecksum, noJoin, few, rows);
        if (known.isPresent() && !measured) {
            return known.get().of(candidates(noChecksum, noJoin));
        }
        List<MethodEstimate> timed = timed(noChecksum, noJoin, rows);
        if (measured || rows > MANY_ROWS && !isClear(timed)) {
            // The first time finds caches cold and code not yet compiled. Of fewer rows, a second would cost too much.
            timed = better(timed, timed(noChecksum, noJoin, rows));
        }
        MethodEstimate best = timed.stream()
                .filter(c -> c.problem().isEmpty())
                .min(Comparator.comparing(MethodEstimate::seconds))
                .orElseThrow();
        return known.orElseGet(() -> new MethodDecision(best.method(), Reason.FASTEST_ON_SAMPLE, List.of(), rows))
                .of(timed);
    }

    /** Where no trial is needed to know. */
    private Optional<MethodDecision> plainly(
            Optional<Obstacle> noChecksum, Optional<Obstacle> noJoin, boolean few, long rows) {
        if (noJoin.isEmpty()) {
            return Optional.of(new MethodDecision(Method.JOINED, Reason.ONE_DATABASE, List.of(), rows));
        }
        if (noChecksum.isEmpty() && eligibility.ownProblem().isEmpty() && eligibility.seek() == Seek.BY_INDEX) {
            return Optional.of(new MethodDecision(Method.CHECKSUM, Reason.SAME_HASHES, List.of(), rows));
        }
        return few
                ? Optional.of(new MethodDecision(Method.STREAM, Reason.FEW_ROWS, List.of(), rows))
                : Optional.empty();
    }

    private static boolean isClear(List<MethodEstimate> timed) {
        List<Double> seconds = timed.stream()
                .filter(c -> c.problem().isEmpty())
                .map(MethodEstimate::seconds)
                .sorted()
                .toList();
        return seconds.size() > 1 && seconds.get(0) * CLEARLY < seconds.get(1);
    }

    /** Of each method, what it promised at its best. */
    private static List<MethodEstimate> better(List<MethodEstimate> once, List<MethodEstimate> again) {
        return IntStream.range(0, once.size())
                .mapToObj(i -> again.get(i).problem().isEmpty()
                                && again.get(i).seconds() < once.get(i).seconds()
                        ? again.get(i)
                        : once.get(i))
                .toList();
    }

    private List<MethodEstimate> candidates(Optional<Obstacle> noChecksum, Optional<Obstacle> noJoin) {
        return List.of(
                new MethodEstimate(Method.STREAM, howStream(), 0, 0, 0),
                noChecksum
                        .map(why -> MethodEstimate.impossible(Method.CHECKSUM, why))
                        .orElseGet(() -> new MethodEstimate(Method.CHECKSUM, howChecksum(), 0, 0, 0)),
                noJoin.map(why -> MethodEstimate.impossible(Method.JOINED, why))
                        .orElseGet(() -> new MethodEstimate(Method.JOINED, new MethodEstimate.JoinsThere(), 0, 0, 0)));
    }

    private MethodEstimate.How howStream() {
        return new MethodEstimate.Reads(match.wholeRow());
    }

    private MethodEstimate.How howChecksum() {
        return new MethodEstimate.Hashes(eligibility.ownProblem(), eligibility.seek() == Seek.BY_SCAN);
    }

    private List<MethodEstimate> timed(Optional<Obstacle> noChecksum, Optional<Obstacle> noJoin, long rows) {
        List<MethodEstimate> out = new ArrayList<>();
        KeyRange sample =
                eligibility.rangeProblem().isEmpty() && eligibility.seek() == Seek.BY_INDEX ? sample() : KeyRange.ALL;
        if (sample.holdsAll() && rows > FEW_ROWS) {
            // Whatever would be timed, would be timed on all rows.
            return candidates(noChecksum, noJoin);
        }
        long total = rows > 0 ? rows : ROWS_WHERE_UNKNOWN;
        Timing reading = readSample(sample);
        double perRow = reading.seconds / Math.max(1, reading.rows);
        double bytesPerRow = reading.bytes / Math.max(1, reading.rows);
        out.add(candidate(Method.STREAM, howStream(), reading, bytesPerRow * total, perRow * total));
        out.add(tried(Method.CHECKSUM, noChecksum, () -> {
            // What the servers do needs no warming.
            KeyRange fewer = new KeyRange(sample.from(), key(SUMMED_ROWS, sample.to()));
            Timing summing = sumSample(sample.holdsAll() || fewer.to().contains(Value.NULL) ? sample : fewer);
            double perHashed = summing.seconds / Math.max(1, summing.rows);
            double share = summing.differing;
            double again = share > 0.5 ? perRow : share * COST_OF_DIFFERING * perHashed;
            double bytes = 2.0 * total / SLICE * BYTES_PER_SUM + share * total / 8 * bytesPerRow;
            return candidate(Method.CHECKSUM, howChecksum(), summing, bytes, (perHashed + again) * total);
        }));
        out.add(tried(Method.JOINED, noJoin, () -> {
            Timing joining = joinSample(sample);
            double share = joining.rows / Math.max(1.0, reading.rows);
            Timing passed = new Timing(reading.rows, joining.bytes, joining.seconds, 0);
            double seconds = joining.seconds / Math.max(1, reading.rows) * total;
            return candidate(
                    Method.JOINED, new MethodEstimate.JoinsThere(), passed, share * total * bytesPerRow, seconds);
        }));
        return out;
    }

    /** A method that fails on the sample, as on a value that an expression of ours can't bear, can't be used. */
    private static MethodEstimate tried(Method method, Optional<Obstacle> problem, Supplier<MethodEstimate> trial) {
        if (problem.isPresent()) {
            return MethodEstimate.impossible(method, problem.get());
        }
        try {
            return trial.get();
        } catch (ToolException e) {
            if (e.kind() != ErrorKind.READ) {
                throw e;
            }
            return MethodEstimate.impossible(method, new Obstacle.Failed(e.getMessage()));
        }
    }

    private static MethodEstimate candidate(
            Method method, MethodEstimate.How how, Timing timing, double bytes, double seconds) {
        return new MethodEstimate(method, how, timing.rows / Math.max(1e-9, timing.seconds), bytes, seconds);
    }

    private record Timing(long rows, double bytes, double seconds, double differing) {}

    /** The first rows of the source, as a range of keys; all of them where there are no more. */
    private KeyRange sample() {
        List<Value> from = key(0, manner.keys().from());
        List<Value> to = key(SAMPLE_ROWS, manner.keys().to());
        return from.contains(Value.NULL) || to.contains(Value.NULL) ? manner.keys() : new KeyRange(from, to);
    }

    /** The key behind so many rows. */
    private List<Value> key(long skipped, List<Value> whereNone) {
        ReadRequest keys = new ReadRequest(match.source(), eligibility.key(Side.SOURCE), eligibility.key(Side.SOURCE))
                .within(List.of(manner.keys()))
                .first(1)
                .skipping(skipped);
        try (RowSource rows = places.source().read(keys)) {
            return rows.next().map(b -> b.row(0)).orElse(whereNone);
        }
    }

    /** The side that is slower decides. */
    private Timing readSample(KeyRange sample) {
        var answers = places.ask(side -> drained(side, sample), stopAsked);
        return new Timing(
                answers.source().rows,
                answers.source().bytes + answers.target().bytes,
                Math.max(answers.source().seconds, answers.target().seconds),
                0);
    }

    private Timing drained(Side side, KeyRange sample) {
        boolean ofSource = side == Side.SOURCE;
        List<sharptally.core.shape.ColumnShape> order = match.wholeRow() ? List.of() : eligibility.key(side);
        ReadRequest request = new ReadRequest(
                        ofSource ? match.source() : match.target(),
                        ofSource ? match.sourceColumns() : match.targetColumns(),
                        order)
                .within(sample.holdsAll() ? List.of() : List.of(sample));
        try (RowSource rows = (ofSource ? places.source() : places.target()).read(request)) {
            return drain(rows);
        }
    }

    /**
     * Reads to the end. What all rows would take is told by the last ones: until then code is being compiled and caches are
     * being filled.
     */
    private static Timing drain(RowSource rows) {
        long count = 0;
        double bytes = 0;
        List<long[]> reached = new ArrayList<>();
        reached.add(new long[] {0, System.nanoTime()});
        for (Optional<RowBatch> batch = rows.next(); batch.isPresent(); batch = rows.next()) {
            count += batch.get().rows();
            for (Column column : batch.get().columns()) {
                bytes += column.arenaSize() > 0 ? column.arenaSize() : 8.0 * column.size();
            }
            reached.add(new long[] {count, System.nanoTime()});
        }
        long[] end = reached.get(reached.size() - 1);
        long from = Math.round(count * UNTIL_WARM);
        long[] warm = reached.stream()
                .filter(at -> at[0] <= from)
                .reduce((one, next) -> next)
                .orElseThrow();
        double perRow = (end[1] - warm[1]) / NANOS_PER_SECOND / Math.max(1, end[0] - warm[0]);
        return new Timing(count, bytes, perRow * count, 0);
    }

    private Timing sumSample(KeyRange sample) {
        long began = System.nanoTime();
        OptionalLong step = eligibility.isWholeNumber() ? OptionalLong.of(SLICE) : OptionalLong.empty();
        SumsRequest source = eligibility.request(Side.SOURCE, eligibility.form());
        SumsRequest target = eligibility.request(Side.TARGET, eligibility.form());
        var answers = places.sums(source.over(List.of(sample), step), target.over(List.of(sample), step), stopAsked);
        double seconds = (System.nanoTime() - began) / NANOS_PER_SECOND;
        Map<Long, RangeSum> ofSource = answers.source();
        long rows = ofSource.values().stream().mapToLong(RangeSum::rows).sum();
        long differing = ofSource.entrySet().stream()
                .filter(e -> !e.getValue().equals(answers.target().get(e.getKey())))
                .count();
        // One sum over all of the sample tells nothing of the share.
        double share = step.isEmpty() ? 0 : differing / Math.max(1.0, ofSource.size());
        return new Timing(rows, 0, seconds, share);
    }

    private Timing joinSample(KeyRange sample) {
        long began = System.nanoTime();
        Joins joins = places.source().joins().orElseThrow();
        try (RowSource rows = joins.joined(JoinComparison.request(match, joins, places, sample))) {
            Timing drained = drain(rows);
            return new Timing(drained.rows, drained.bytes, (System.nanoTime() - began) / NANOS_PER_SECOND, 0);
        }
    }
}
