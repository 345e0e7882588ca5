package sharptally.spark;

import java.util.Set;
import sharptally.engines.lake.LakeEngine;

/** The same command line, in the driver of a cluster. */
public final class Main {
    private static final Set<String> COMMANDS = Set.of("compare", "survey");

    private Main() {}

    public static void main(String[] args) {
        if (args.length > 0 && !COMMANDS.contains(args[0]) && !args[0].startsWith("-")) {
            System.err.println("sharp-tally: a cluster has no part in this command: " + args[0]
                    + "; run it without one, on the folder of the run");
            System.exit(2);
        }
        System.setProperty(LakeEngine.ON_CLUSTER, "true");
        sharptally.cli.Main.main(args);
    }
}
