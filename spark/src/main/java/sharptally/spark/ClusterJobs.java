package sharptally.spark;

import java.util.UUID;
import java.util.concurrent.Callable;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.function.BooleanSupplier;
import org.apache.spark.api.java.JavaSparkContext;
import sharptally.core.compare.stream.StreamComparison;
import sharptally.core.fault.ToolException;
import sharptally.core.match.TableMatch;
import sharptally.core.rows.Daemons;
import sharptally.spark.lake.Trouble;

/** Runs jobs of one match on the cluster; they are ended when a stop is asked for. */
final class ClusterJobs {
    private static final long WATCH_MILLIS = 200;

    private final JavaSparkContext cluster;
    private final TableMatch match;
    private final BooleanSupplier stopAsked;

    ClusterJobs(JavaSparkContext cluster, TableMatch match, BooleanSupplier stopAsked) {
        this.cluster = cluster;
        this.match = match;
        this.stopAsked = stopAsked;
    }

    /**
     * @param what is being done, as the cluster shows it
     * @throws ToolException with what an executor said, where one failed
     */
    <T> T run(String what, Callable<T> job) {
        String group = UUID.randomUUID().toString();
        AtomicBoolean ended = new AtomicBoolean();
        Daemons.run("watch-" + match.name(), () -> {
            while (!ended.get()) {
                if (stopAsked.getAsBoolean()) {
                    cluster.cancelJobGroup(group);
                }
                sleep();
            }
        });
        cluster.setJobGroup(group, match.name() + ": " + what, true);
        try {
            return job.call();
        } catch (Exception e) { // The compiler does not know of what Scala throws.
            if (stopAsked.getAsBoolean()) {
                throw StreamComparison.stopped(match);
            }
            throw Trouble.of(e, match.name());
        } finally {
            ended.set(true);
            cluster.clearJobGroup();
        }
    }

    private static void sleep() {
        try {
            Thread.sleep(WATCH_MILLIS);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }
}
