package sharptally.spark;

import java.security.SecureRandom;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import org.apache.spark.HashPartitioner;
import org.apache.spark.api.java.JavaPairRDD;
import org.apache.spark.api.java.JavaSparkContext;
import org.apache.spark.broadcast.Broadcast;
import sharptally.core.compare.Counts;
import sharptally.core.compare.Method;
import sharptally.core.compare.Outcome;
import sharptally.core.compare.PartKeeper;
import sharptally.core.compare.RangeResult;
import sharptally.core.compare.method.Eligibility;
import sharptally.core.compare.record.HashTally;
import sharptally.core.compare.run.Comparing;
import sharptally.core.compare.run.RangeResults;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Side;
import sharptally.core.rows.RecordHash;
import sharptally.spark.rows.DistributedRows;
import sharptally.spark.work.HashTask;
import sharptally.spark.work.KeyBounds;
import sharptally.spark.work.KeySet;
import sharptally.spark.work.LeftKeys;
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
    private final ClusterSides sides;
    private final ClusterJobs jobs;
    private final Eligibility eligibility;
    private final List<String> remarks = new ArrayList<>();
    private final RecordHash hash;

    ByShuffle(Comparing.Work work, ClusterSides sides, Eligibility eligibility) {
        this.work = work;
        this.match = work.match();
        this.sent = sides.sent();
        this.cluster = sides.cluster();
        this.sides = sides;
        this.jobs = sides.jobs();
        this.eligibility = eligibility;
        this.hash = new RecordHash(match.pairs().size(), new SecureRandom());
    }

    Outcome run() {
        long began = System.nanoTime();
        work.keeper().restart();
        DistributedRows<?> source = sides.rows(Side.SOURCE);
        DistributedRows<?> target = sides.rows(Side.TARGET);
        if (work.settings().method() == Method.CHECKSUM) {
            remarks.add(
                    "checksums can't be had of this table on a cluster, or proved nothing: its rows were read instead");
        }
        remarks.addAll(sides.ownStates());
        boolean hashed = eligibility.hashesKeys() && work.settings().method() != Method.STREAM;
        RangeResult all =
                hashed ? byRecords(source, target).orElseGet(() -> byMerge(source, target)) : byMerge(source, target);
        return Outcome.of(all, false, Duration.ofNanos(System.nanoTime() - began));
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
            List<RangeResult> results = sides.merged(
                    source, target, new LeftKeys(hash, broadcast), bounds(source, target, merges), BY_RECORDS);
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
        RangeResult all = new RangeResult(Counts.allSame(rows, match.pairs().size()), BY_RECORDS, List.of(), remarks);
        PartKeeper keeper = work.keeper();
        keeper.open(0).close();
        keeper.finish(0, all);
        return all;
    }

    private RangeResult byMerge(DistributedRows<?> source, DistributedRows<?> target) {
        List<RangeResult> results =
                sides.merged(source, target, null, bounds(source, target, partsFor(source, target)), BY_MERGE);
        return RangeResults.of(results, remarks);
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
