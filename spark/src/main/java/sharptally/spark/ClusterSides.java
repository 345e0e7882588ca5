package sharptally.spark;

import java.util.ArrayList;
import java.util.Iterator;
import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.stream.Stream;
import org.apache.spark.HashPartitioner;
import org.apache.spark.api.java.JavaPairRDD;
import org.apache.spark.api.java.JavaRDD;
import org.apache.spark.api.java.JavaSparkContext;
import org.apache.spark.sql.SparkSession;
import org.apache.spark.sql.vectorized.ColumnarBatch;
import org.apache.spark.storage.StorageLevel;
import org.jspecify.annotations.Nullable;
import sharptally.core.checksum.Cutting;
import sharptally.core.compare.RangeResult;
import sharptally.core.compare.method.Eligibility;
import sharptally.core.compare.run.Comparing;
import sharptally.core.compare.stream.StreamComparison;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Estimate;
import sharptally.core.place.Place;
import sharptally.core.place.ReadRequest;
import sharptally.core.place.Side;
import sharptally.core.place.part.Seek;
import sharptally.core.range.KeyRange;
import sharptally.spark.lake.LakePlace;
import sharptally.spark.lake.LakeRead;
import sharptally.spark.rows.DistributedRows;
import sharptally.spark.rows.LakeBatchesOf;
import sharptally.spark.rows.LakeRowsOf;
import sharptally.spark.rows.PlaceRowsOf;
import sharptally.spark.send.Sent;
import sharptally.spark.send.SentPlace;
import sharptally.spark.work.KeyBounds;
import sharptally.spark.work.MergeTask;
import sharptally.spark.work.PickTask;
import sharptally.spark.work.Picking;
import sharptally.spark.work.SentMatch;

/** Both sides of a match on the cluster: how their rows are had, and how those that were chosen are merged. */
final class ClusterSides {
    private final Comparing.Work work;
    private final TableMatch match;
    private final SentMatch sent;
    private final JavaSparkContext cluster;
    private final ClusterJobs jobs;
    private final Eligibility eligibility;

    ClusterSides(Comparing.Work work, SparkSession session) {
        this.work = work;
        this.match = work.match();
        this.sent = SentMatch.of(match);
        this.cluster = JavaSparkContext.fromSparkContext(session.sparkContext());
        this.jobs = new ClusterJobs(cluster, match, work.context().stopAsked());
        this.eligibility = new Eligibility(
                match, work.workers().get(0).source(), work.workers().get(0).target());
    }

    /** That databases were read in more than one state, a sentence for each. */
    List<String> ownStates() {
        return Stream.of(Side.values())
                .filter(side -> !(work.workers().get(0).of(side) instanceof LakePlace))
                .map(
                        side -> "the " + side
                                + " was read by executors over connections of their own, each seeing the state of its beginning")
                .toList();
    }

    ClusterJobs jobs() {
        return jobs;
    }

    JavaSparkContext cluster() {
        return cluster;
    }

    SentMatch sent() {
        return sent;
    }

    SentPlace place(Side side) {
        return SentPlace.of(side == Side.SOURCE ? work.source() : work.target());
    }

    /** The rows of a side, as the executors have them. */
    DistributedRows<?> rows(Side side) {
        Place place = work.workers().get(0).of(side);
        ReadRequest request = PlaceRowsOf.request(match, side);
        if (place instanceof LakePlace lake) {
            LakeRead read = lake.distributed(request);
            long bytes = lake.estimate(request.table().name()).bytes().orElse(-1);
            Optional<JavaRDD<ColumnarBatch>> columnar = jobs.run("planning", read::columnar);
            if (columnar.isPresent()) {
                return new DistributedRows<>(columnar.get(), new LakeBatchesOf(read.read()), bytes);
            }
            return new DistributedRows<>(
                    jobs.run("planning", read::distributed),
                    new LakeRowsOf(read.read(), Sent.text(request.columns())),
                    bytes);
        }
        return rows(side, ranges(place, request));
    }

    /**
     * The rows of a place in some ranges of the key.
     *
     * @param ranges what an executor reads at a time
     */
    DistributedRows<?> rows(Side side, List<List<KeyRange>> ranges) {
        Place place = work.workers().get(0).of(side);
        List<String> elements = ranges.stream().map(Sent::text).toList();
        return new DistributedRows<>(
                cluster.parallelize(elements, connections(elements.size())),
                new PlaceRowsOf(place(side), sent.text(), side),
                place.estimate(PlaceRowsOf.request(match, side).table().name())
                        .bytes()
                        .orElse(-1));
    }

    /** So many connections to a place are open at once, for so many things to be done. */
    int connections(int things) {
        return Math.max(1, Math.min(things, work.settings().workers()));
    }

    /** What each executor reads of a place at a time; all at once where it finds no rows by the key. */
    private List<List<KeyRange>> ranges(Place place, ReadRequest request) {
        boolean seeks = StreamComparison.comesByKey(request)
                && place.seeking()
                        .filter(s -> s.seek(request.table(), request.orderBy()) == Seek.BY_INDEX)
                        .isPresent();
        Estimate size = request.table().query().isPresent()
                ? Estimate.UNKNOWN
                : place.estimate(request.table().name());
        long rows = size.rows().orElse(-1);
        int atOnce = work.settings().workers();
        if (!seeks || rows < 4_000 || atOnce < 2) {
            return List.of(List.of());
        }
        long perRange = Math.max(500, rows / (4L * atOnce));
        List<KeyRange> cut = new Cutting(request.table(), request.orderBy(), place)
                .cut(
                        KeyRange.ALL,
                        perRange,
                        eligibility.isWholeNumber() ? OptionalLong.of(rows) : OptionalLong.empty());
        return cut.stream().map(List::of).toList();
    }

    /**
     * Brings rows together and merges them, part by part.
     *
     * @param picking which rows; {@code null} for all
     */
    List<RangeResult> merged(
            DistributedRows<?> source,
            DistributedRows<?> target,
            @Nullable Picking picking,
            KeyBounds bounds,
            String method) {
        int merges = bounds.finder().parts();
        JavaPairRDD<Integer, byte[]> ofSource =
                source.parts(new PickTask(sent, Side.SOURCE, picking, bounds)).partitionBy(new HashPartitioner(merges));
        JavaPairRDD<Integer, byte[]> ofTarget =
                target.parts(new PickTask(sent, Side.TARGET, picking, bounds)).partitionBy(new HashPartitioner(merges));
        JavaRDD<byte[]> found =
                ofSource.zipPartitions(ofTarget, new MergeTask(sent, method)).persist(StorageLevel.DISK_ONLY());
        try {
            jobs.run("rows that differ", found::count);
            Iterator<byte[]> chunks = found.toLocalIterator();
            PartResults results = new PartResults(match, work.keeper());
            List<RangeResult> all = new ArrayList<>();
            for (int part = 0; part < merges; part++) {
                int now = part;
                all.add(jobs.run("findings", () -> results.take(now, chunks)));
            }
            return all;
        } finally {
            found.unpersist();
        }
    }
}
