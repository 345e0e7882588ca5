package sharptally.spark;

import java.time.Duration;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.List;
import java.util.OptionalLong;
import org.apache.spark.api.java.JavaRDD;
import org.apache.spark.api.java.JavaSparkContext;
import org.apache.spark.sql.SparkSession;
import org.apache.spark.storage.StorageLevel;
import sharptally.core.checksum.Cutting;
import sharptally.core.compare.Method;
import sharptally.core.compare.Outcome;
import sharptally.core.compare.Pair;
import sharptally.core.compare.RangeResult;
import sharptally.core.compare.method.Eligibility;
import sharptally.core.compare.method.MethodChoice;
import sharptally.core.compare.run.Comparing;
import sharptally.core.compare.run.RangeResults;
import sharptally.core.compare.run.RangeTask;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Side;
import sharptally.core.range.KeyRange;
import sharptally.spark.send.Sent;
import sharptally.spark.send.SentPlace;
import sharptally.spark.send.SentRange;
import sharptally.spark.work.RangesTask;
import sharptally.spark.work.SentMatch;

/**
 * Compares a match range by range: each executor runs the range tasks of the local program over connections of its own. Ranges are
 * finished a wave at a time, and those that are finished are not compared again when the run is resumed.
 */
final class ByRanges {
    private static final int RANGES_PER_CONNECTION = 4;
    private static final String OWN_STATES =
            "both sides were read by executors over connections of their own, each seeing the state of its beginning";

    private final Comparing.Work work;
    private final TableMatch match;
    private final JavaSparkContext cluster;
    private final ClusterJobs jobs;

    ByRanges(Comparing.Work work, SparkSession session) {
        this.work = work;
        this.match = work.match();
        this.cluster = JavaSparkContext.fromSparkContext(session.sparkContext());
        this.jobs = new ClusterJobs(cluster, match, work.context().stopAsked());
    }

    Outcome run() {
        long began = System.nanoTime();
        Pair places = work.workers().get(0);
        Method method = new MethodChoice(
                        match, places, work.settings(), work.context().stopAsked())
                .choose(work.rows(), false)
                .method();
        List<KeyRange> ranges = work.keeper().ranges().orElseGet(() -> {
            List<KeyRange> cut = cut(places);
            work.keeper().cut(cut);
            return cut;
        });
        long perRange = work.rows() > 0
                ? Math.max(1, work.rows() / ranges.size())
                : work.settings().rowsPerRange();
        List<RangeTask> left = new ArrayList<>();
        for (int i = 0; i < ranges.size(); i++) {
            if (work.keeper().finished(i).isEmpty()) {
                left.add(new RangeTask(
                        match,
                        i,
                        ranges.get(i),
                        perRange,
                        method,
                        work.settings().sample()));
            }
        }
        int atOnce = Math.max(1, work.settings().workers());
        for (int from = 0; from < left.size(); from += RANGES_PER_CONNECTION * atOnce) {
            wave(left.subList(from, Math.min(left.size(), from + RANGES_PER_CONNECTION * atOnce)), atOnce);
        }
        List<RangeResult> parts = new ArrayList<>();
        for (int i = 0; i < ranges.size(); i++) {
            parts.add(work.keeper().finished(i).orElseThrow());
        }
        return Outcome.of(
                RangeResults.of(parts, List.of(OWN_STATES)), false, Duration.ofNanos(System.nanoTime() - began));
    }

    private List<KeyRange> cut(Pair places) {
        Eligibility eligibility = new Eligibility(match, places.source(), places.target());
        long takers = work.settings().workers();
        long perRange = work.rows() > 0
                ? Math.max(
                        1_000, Math.min(work.settings().rowsPerRange(), work.rows() / (RANGES_PER_CONNECTION * takers)))
                : work.settings().rowsPerRange();
        return new Cutting(match.source(), eligibility.key(Side.SOURCE), places.source())
                .cut(
                        KeyRange.ALL,
                        perRange,
                        eligibility.isWholeNumber() ? OptionalLong.of(work.rows()) : OptionalLong.empty());
    }

    private void wave(List<RangeTask> tasks, int atOnce) {
        RangesTask ranges = new RangesTask(
                SentMatch.of(match),
                SentPlace.of(work.source()),
                SentPlace.of(work.target()),
                tasks.get(0).method().name());
        List<String> elements = tasks.stream()
                .map(t -> Sent.text(new SentRange(t.number(), t.range(), t.rows())))
                .toList();
        JavaRDD<byte[]> found = cluster.parallelize(elements, Math.min(atOnce, elements.size()))
                .mapPartitions(ranges)
                .persist(StorageLevel.DISK_ONLY());
        try {
            jobs.run("ranges", found::count);
            Iterator<byte[]> chunks = found.toLocalIterator();
            PartResults results = new PartResults(match, work.keeper());
            for (RangeTask task : tasks) {
                jobs.run("findings", () -> results.take(task.number(), chunks));
            }
        } finally {
            found.unpersist();
        }
    }
}
