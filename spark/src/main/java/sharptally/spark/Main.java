package sharptally.spark;

import sharptally.engines.lake.LakeEngine;

/** The same command line, in the driver of a cluster. */
public final class Main {
    private Main() {}

    public static void main(String[] args) {
        System.setProperty(LakeEngine.ON_CLUSTER, "true");
        int code = sharptally.cli.Main.run(System.out, System.err, args);
        System.exit(code);
    }
}
