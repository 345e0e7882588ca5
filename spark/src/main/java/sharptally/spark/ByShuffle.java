package sharptally.spark;

import java.security.SecureRandom;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.stream.Stream;
import org.apache.spark.HashPartitioner;
import org.apache.spark.api.java.JavaPairRDD;
import org.apache.spark.api.java.JavaRDD;
import org.apache.spark.api.java.JavaSparkContext;
import org.apache.spark.broadcast.Broadcast;
import org.apache.spark.sql.SparkSession;
import org.apache.spark.sql.vectorized.ColumnarBatch;
import org.apache.spark.storage.StorageLevel;
import org.jspecify.annotations.Nullable;
import sharptally.core.checksum.Cutting;
import sharptally.core.compare.Counts;
import sharptally.core.compare.Outcome;
import sharptally.core.compare.PartKeeper;
import sharptally.core.compare.RangeResult;
import sharptally.core.compare.method.Eligibility;
import sharptally.core.compare.record.HashTally;
import sharptally.core.compare.run.Comparing;
import sharptally.core.compare.run.RangeResults;
import sharptally.core.compare.stream.StreamComparison;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Estimate;
import sharptally.core.place.Place;
import sharptally.core.place.ReadRequest;
import sharptally.core.place.Side;
import sharptally.core.place.part.Seek;
import sharptally.core.range.KeyRange;
import sharptally.core.rows.RecordHash;
import sharptally.spark.lake.LakePlace;
import sharptally.spark.lake.LakeRead;
import sharptally.spark.send.Sent;
import sharptally.spark.send.SentPlace;
import sharptally.spark.work.DistributedRows;
import sharptally.spark.work.HashTask;
import sharptally.spark.work.KeyBounds;
import sharptally.spark.work.KeySet;
import sharptally.spark.work.LakeBatchesOf;
import sharptally.spark.work.LakeRowsOf;
import sharptally.spark.work.MergeTask;
import sharptally.spark.work.PickTask;
import sharptally.spark.work.PlaceRowsOf;
import sharptally.spark.work.SampleTask;
import sharptally.spark.work.SentMatch;
import sharptally.spark.work.TallyTask;

/**
 * Compares a match by bringing rows of both sides together. First the hashes of all rows, 16 bytes each, which tell the keys whose
 * rows have no equal ones on the other side; then those rows alone, whole, in parts by ranges of the key, each of which is sorted
 * and merged as by the local program. Where many rows differ, or hashes can't tell them apart, all rows are brought together.
 */
final class ByShuffle {
    private static final String BY_RECORDS = "by records, on the cluster";
    private static final String BY_MERGE = "stream, on the cluster";
    private static final int SAMPLED_KEYS = 512;
    /** Of the sizes that sources tell of themselves. */
    private static final long BYTES_PER_PART = 32L << 20;

    private static final long ROWS_PER_MERGE = 100_000;
    private static final int MAX_PARTS = 20_000;
    private static final int MAX_LEFT = 1 << 22;
    private static final int SAMPLES_PER_PARTITION = 32;

    private final Comparing.Work work;
    private final TableMatch match;
    private final SentMatch sent;
    private final JavaSparkContext cluster;
    private final ClusterJobs jobs;
    private final Eligibility eligibility;
    private final List<String> remarks = new ArrayList<>();
    private final RecordHash hash;

    ByShuffle(Comparing.Work work, SparkSession session, Eligibility eligibility) {
        this.work = work;
        this.match = work.match();
        this.sent = SentMatch.of(match);
        this.cluster = JavaSparkContext.fromSparkContext(session.sparkContext());
        this.jobs = new ClusterJobs(cluster, match, work.context().stopAsked());
        this.eligibility = eligibility;
        this.hash = new RecordHash(match.pairs().size(), new SecureRandom());
    }

    Outcome run() {
        long began = System.nanoTime();
        work.keeper().restart();
        DistributedRows<?> source = rows(Side.SOURCE);
        DistributedRows<?> target = rows(Side.TARGET);
        RangeResult all = eligibility.hashesKeys()
                ? byRecords(source, target).orElseGet(() -> byMerge(source, target))
                : byMerge(source, target);
        return Outcome.of(all, false, Duration.ofNanos(System.nanoTime() - began));
    }

    private DistributedRows<?> rows(Side side) {
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
        SentPlace elsewhere = SentPlace.of(side == Side.SOURCE ? work.source() : work.target());
        List<List<KeyRange>> ranges = ranges(place, request);
        List<String> elements = ranges.stream().map(Sent::text).toList();
        int atOnce = Math.max(1, Math.min(elements.size(), work.settings().workers()));
        return new DistributedRows<>(
                cluster.parallelize(elements, atOnce),
                new PlaceRowsOf(elsewhere, sent.text(), side),
                place.estimate(request.table().name()).bytes().orElse(-1));
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

    private int partsFor(DistributedRows<?> source, DistributedRows<?> target) {
        long bytes = Math.max(0, source.bytes()) + Math.max(0, target.bytes());
        boolean known = source.bytes() >= 0 && target.bytes() >= 0 && bytes < Long.MAX_VALUE / 4;
        long wanted = known ? bytes / BYTES_PER_PART : 4L * (source.partitions() + target.partitions());
        return (int) Math.max(2L * cluster.defaultParallelism(), Math.min(MAX_PARTS, wanted));
    }

    /** By the hashes of rows; empty where too many are left. */
    private Optional<RangeResult> byRecords(DistributedRows<?> source, DistributedRows<?> target) {
        int parts = partsFor(source, target);
        JavaPairRDD<Integer, byte[]> chunks = source.parts(new HashTask(sent, Side.SOURCE, hash, parts))
                .union(target.parts(new HashTask(sent, Side.TARGET, hash, parts)))
                .partitionBy(new HashPartitioner(parts));
        TallyTask tally = new TallyTask(
                match.wholeRow(), Math.max(1, SAMPLED_KEYS / parts), Math.max(1 << 10, 2 * MAX_LEFT / parts));
        List<TallyTask.Part> found = jobs
                .run("hashes of rows", () -> chunks.mapPartitions(tally).collect())
                .stream()
                .map(TallyTask.Part::of)
                .toList();
        HashTally.Told told =
                found.stream().map(TallyTask.Part::told).reduce(HashTally.Told.NOTHING, HashTally.Told::plus);
        long sourceLeft = told.sourceLeft()
                + found.stream().mapToLong(p -> p.withoutKey()[0]).sum();
        long targetLeft = told.targetLeft()
                + found.stream().mapToLong(p -> p.withoutKey()[1]).sum();
        long left = found.stream().mapToLong(p -> p.left().length).sum();
        work.context().progress().rows(told.equal(), told.equal());
        if (left > MAX_LEFT || found.stream().anyMatch(TallyTask.Part::tooMany)) {
            return Optional.empty();
        }
        if (sourceLeft == 0 && targetLeft == 0) {
            return Optional.of(nothingDiffers(told.equal()));
        }
        // By these it is told where rows differ.
        sourceLeft += told.sampled();
        targetLeft += told.sampled();
        Counts equal =
                Counts.allSame(told.equal() - told.sampled(), match.pairs().size());
        KeySet keys = new KeySet(
                found.stream().flatMap(p -> Stream.of(p.left(), p.sampled())).toList());
        Broadcast<KeySet> broadcast = cluster.broadcast(keys);
        try {
            int merges = (int) Math.max(
                    1, Math.min(2L * cluster.defaultParallelism(), Math.max(sourceLeft, targetLeft) / ROWS_PER_MERGE));
            List<RangeResult> results = merged(source, target, broadcast, merges, BY_RECORDS);
            RangeResult all = RangeResults.of(results, remarks);
            if (all.counts().sourceRows() != sourceLeft || all.counts().targetRows() != targetLeft) {
                remarks.add("rows changed while they were compared; all of them were read again");
                work.keeper().restart();
                return Optional.empty();
            }
            return Optional.of(new RangeResult(all.counts().plus(equal), BY_RECORDS, all.damage(), all.remarks()));
        } finally {
            broadcast.destroy();
        }
    }

    private RangeResult nothingDiffers(long rows) {
        RangeResult all = new RangeResult(Counts.allSame(rows, match.pairs().size()), BY_RECORDS, List.of(), List.of());
        PartKeeper keeper = work.keeper();
        keeper.open(0).close();
        keeper.finish(0, all);
        return all;
    }

    private RangeResult byMerge(DistributedRows<?> source, DistributedRows<?> target) {
        List<RangeResult> results = merged(source, target, null, partsFor(source, target), BY_MERGE);
        return RangeResults.of(results, remarks);
    }

    private List<RangeResult> merged(
            DistributedRows<?> source,
            DistributedRows<?> target,
            @Nullable Broadcast<KeySet> left,
            int parts,
            String method) {
        KeyBounds bounds = bounds(source, target, parts);
        int merges = bounds.finder().parts();
        JavaPairRDD<Integer, byte[]> ofSource = source.parts(new PickTask(sent, Side.SOURCE, hash, left, bounds))
                .partitionBy(new HashPartitioner(merges));
        JavaPairRDD<Integer, byte[]> ofTarget = target.parts(new PickTask(sent, Side.TARGET, hash, left, bounds))
                .partitionBy(new HashPartitioner(merges));
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

    private KeyBounds bounds(DistributedRows<?> source, DistributedRows<?> target, int parts) {
        if (parts == 1) {
            return KeyBounds.none(match);
        }
        List<byte[]> samples = new ArrayList<>();
        for (var side : Map.of(Side.SOURCE, source, Side.TARGET, target).entrySet()) {
            samples.addAll(jobs.run(
                    "a look at the keys",
                    () -> side.getValue().collected(new SampleTask(sent, side.getKey(), SAMPLES_PER_PARTITION))));
        }
        return KeyBounds.of(samples, match, parts);
    }
}
