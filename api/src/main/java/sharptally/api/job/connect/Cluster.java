package sharptally.api.job.connect;

import java.util.ServiceLoader;
import sharptally.core.compare.run.Comparing;
import sharptally.engines.lake.LakeEngine;

/** Whether this process is the driver of a cluster, which has services of its own on the class path. */
public final class Cluster {
    private Cluster() {}

    /** Whether this process is the driver of one. */
    public static boolean isHere() {
        return Boolean.getBoolean(LakeEngine.ON_CLUSTER);
    }

    /** How rows are compared in this process. */
    public static Comparing comparing() {
        return isHere() ? ServiceLoader.load(Comparing.class).findFirst().orElse(Comparing::here) : Comparing::here;
    }
}
