package sharptally.spark;

import java.time.Duration;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Random;
import java.util.stream.IntStream;
import org.apache.spark.broadcast.Broadcast;
import sharptally.core.checksum.Cutting;
import sharptally.core.compare.Counts;
import sharptally.core.compare.Method;
import sharptally.core.compare.Outcome;
import sharptally.core.compare.PartKeeper;
import sharptally.core.compare.RangeResult;
import sharptally.core.compare.method.Eligibility;
import sharptally.core.compare.run.Comparing;
import sharptally.core.compare.run.RangeResults;
import sharptally.core.compare.stream.StreamComparison;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Place;
import sharptally.core.place.ReadRequest;
import sharptally.core.place.Side;
import sharptally.core.place.part.Seek;
import sharptally.core.place.part.SumsRequest;
import sharptally.core.range.KeyRange;
import sharptally.core.types.Value;
import sharptally.spark.lake.LakePlace;
import sharptally.spark.rows.DistributedRows;
import sharptally.spark.rows.PlaceRowsOf;
import sharptally.spark.send.Sent;
import sharptally.spark.send.SentSlices;
import sharptally.spark.sums.SliceSums;
import sharptally.spark.sums.SumRowsTask;
import sharptally.spark.sums.SumSlicesTask;
import sharptally.spark.work.KeyBounds;
import sharptally.spark.work.LeftSlices;

/**
 * Compares a lake with a database that is far away: checksums of slices of the key first, which the database works out by itself
 * and the executors of the lake's rows; only the rows of slices that differ leave the database.
 */
final class BySums {
    private static final String METHOD = "checksum, on the cluster";
    private static final long ROWS_PER_SLICE = 2_048;
    private static final long MAX_SLICES = 100_000;
    private static final int SLICES_PER_QUERY = 200;
    private static final long ROWS_PER_MERGE = 100_000;
    /** Slices with equal sums that are looked at all the same. */
    private static final int LOOKED_AT = 2;

    private final Comparing.Work work;
    private final TableMatch match;
    private final ClusterSides sides;
    private final Side lake;
    private final Side far;
    private final Place place;

    private BySums(Comparing.Work work, ClusterSides sides, Side lake) {
        this.work = work;
        this.match = work.match();
        this.sides = sides;
        this.lake = lake;
        this.far = lake == Side.SOURCE ? Side.TARGET : Side.SOURCE;
        this.place = work.workers().get(0).of(far);
    }

    /** Where checksums were asked for, and can be had. */
    static Optional<BySums> of(Comparing.Work work, ClusterSides sides, Eligibility eligibility) {
        boolean ofSource = work.workers().get(0).source() instanceof LakePlace;
        boolean ofTarget = work.workers().get(0).target() instanceof LakePlace;
        if (work.settings().method() != Method.CHECKSUM || ofSource == ofTarget || !eligibility.comparesPlainly()) {
            return Optional.empty();
        }
        BySums sums = new BySums(work, sides, ofSource ? Side.SOURCE : Side.TARGET);
        return Optional.of(sums).filter(BySums::canBe);
    }

    private boolean canBe() {
        ReadRequest request = PlaceRowsOf.request(match, far);
        SumsRequest asked = SumSlicesTask.request(match, far);
        return StreamComparison.comesByKey(request)
                && place.seeking()
                        .filter(s -> s.seek(request.table(), request.orderBy()) == Seek.BY_INDEX)
                        .isPresent()
                && place.checksums().filter(c -> c.problem(asked).isEmpty()).isPresent();
    }

    /** Empty where the sums proved nothing, and all is to be compared otherwise. */
    Optional<Outcome> run() {
        long began = System.nanoTime();
        work.keeper().restart();
        List<KeyRange> slices = slices();
        Broadcast<KeyBounds> bounds = sides.cluster()
                .broadcast(
                        KeyBounds.at(slices.stream().skip(1).map(KeyRange::from).toList(), match));
        DistributedRows<?> rows = sides.rows(lake);
        SliceSums ofLake = SliceSums.of(sides.jobs()
                .run(
                        "checksums of the lake",
                        () -> rows.parts(new SumRowsTask(sides.sent(), lake, bounds))
                                .values()
                                .treeReduce(SliceSums::plus)));
        SliceSums ofPlace = sums(slices);
        BitSet left = new BitSet();
        BitSet same = new BitSet();
        long equal = 0;
        long rowsLeft = 0;
        for (int i = 0; i < slices.size(); i++) {
            if (ofLake.of(i).proves(ofPlace.of(i))) {
                equal += ofLake.of(i).rows();
                same.set(i);
            } else {
                rowsLeft += Math.max(ofLake.of(i).rows(), ofPlace.of(i).rows());
                left.set(i);
            }
        }
        if (!isTrue(slices, rows, bounds, same)) {
            return Optional.empty();
        }
        Counts counts = Counts.allSame(equal, match.pairs().size());
        if (left.isEmpty()) {
            PartKeeper keeper = work.keeper();
            keeper.open(0).close();
            RangeResult all = new RangeResult(counts, METHOD, List.of(), sides.ownStates());
            keeper.finish(0, all);
            return Optional.of(outcome(all, began));
        }
        List<RangeResult> results = sides.merged(
                of(Side.SOURCE, rows, slices, left),
                of(Side.TARGET, rows, slices, left),
                new LeftSlices(bounds, sides.cluster().broadcast(left)),
                cuts(slices, left, rowsLeft),
                METHOD);
        RangeResult found = RangeResults.of(results, sides.ownStates());
        boolean moved = left.stream().mapToLong(i -> ofLake.of(i).rows()).sum() != rowsOf(found.counts(), lake)
                || left.stream().mapToLong(i -> ofPlace.of(i).rows()).sum() != rowsOf(found.counts(), far);
        return moved
                ? Optional.empty()
                : Optional.of(outcome(
                        new RangeResult(found.counts().plus(counts), METHOD, found.damage(), found.remarks()), began));
    }

    private static Outcome outcome(RangeResult all, long began) {
        return Outcome.of(all, false, Duration.ofNanos(System.nanoTime() - began));
    }

    private static long rowsOf(Counts counts, Side side) {
        return side == Side.SOURCE ? counts.sourceRows() : counts.targetRows();
    }

    /** The lake's rows are looked through; the place's are asked for by ranges. */
    private DistributedRows<?> of(Side side, DistributedRows<?> rows, List<KeyRange> slices, BitSet left) {
        if (side == lake) {
            return rows;
        }
        List<KeyRange> ranges =
                KeyRange.joined(left.stream().mapToObj(slices::get).toList());
        return sides.rows(far, ranges.stream().map(List::of).toList());
    }

    /** A few slices that are said to be the same are read, by which a fault in the sums would be seen. */
    private boolean isTrue(List<KeyRange> slices, DistributedRows<?> rows, Broadcast<KeyBounds> bounds, BitSet same) {
        int[] some = new Random()
                .ints(LOOKED_AT, 0, Math.max(1, same.cardinality()))
                .map(n -> same.stream().skip(n).findFirst().orElse(-1))
                .filter(i -> i >= 0)
                .toArray();
        BitSet looked = new BitSet();
        IntStream.of(some).forEach(looked::set);
        if (looked.isEmpty()) {
            return true;
        }
        List<RangeResult> results = sides.merged(
                of(Side.SOURCE, rows, slices, looked),
                of(Side.TARGET, rows, slices, looked),
                new LeftSlices(bounds, sides.cluster().broadcast(looked)),
                KeyBounds.none(match),
                METHOD);
        boolean held = results.stream().allMatch(r -> r.counts().nothingDiffers());
        work.keeper().restart();
        return held;
    }

    private List<KeyRange> slices() {
        ReadRequest keys = PlaceRowsOf.request(match, far);
        long rows = place.estimate(keys.table().name()).rows().orElse(-1);
        return new Cutting(keys.table(), keys.orderBy(), place)
                .cut(KeyRange.ALL, Math.max(ROWS_PER_SLICE, rows / MAX_SLICES), OptionalLong.empty());
    }

    private SliceSums sums(List<KeyRange> slices) {
        List<String> elements = new ArrayList<>();
        for (int from = 0; from < slices.size(); from += SLICES_PER_QUERY) {
            elements.add(Sent.text(
                    new SentSlices(from, slices.subList(from, Math.min(slices.size(), from + SLICES_PER_QUERY)))));
        }
        SumSlicesTask task = new SumSlicesTask(sides.sent(), far, sides.place(far), slices.size());
        return SliceSums.of(sides.jobs()
                .run(
                        "checksums of the database",
                        () -> sides.cluster()
                                .parallelize(elements, sides.connections(elements.size()))
                                .mapPartitions(task)
                                .reduce(SliceSums::plus)));
    }

    /** By these the rows that are left are merged in parts. */
    private KeyBounds cuts(List<KeyRange> slices, BitSet left, long rows) {
        int parts = (int) Math.max(1, Math.min(left.cardinality(), rows / ROWS_PER_MERGE));
        List<List<Value>> cuts = new ArrayList<>();
        int[] of = left.stream().toArray();
        for (int part = 1; part < parts; part++) {
            cuts.add(slices.get(of[(int) ((long) part * of.length / parts)]).from());
        }
        return KeyBounds.at(cuts, match);
    }
}
