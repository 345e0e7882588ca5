package sharptally.spark;

import java.io.IOException;
import java.io.PrintStream;
import java.util.Optional;
import java.util.Set;
import sharptally.core.fault.ErrorKind;
import sharptally.engines.lake.LakeEngine;
import sharptally.spark.lake.Trouble;

/** The same command line, in the driver of a cluster. */
public final class Main {
    private static final Set<String> COMMANDS = Set.of("compare", "survey");

    private Main() {}

    public static void main(String[] args) {
        System.setProperty(LakeEngine.ON_CLUSTER, "true");
        System.exit(run(System.out, System.err, args));
    }

    private static int run(PrintStream out, PrintStream err, String... args) {
        if (args.length > 0 && !COMMANDS.contains(args[0]) && !args[0].startsWith("-")) {
            err.println("sharp-tally: a cluster has no part in this command: " + args[0]
                    + "; run it without one, on the folder of the run");
            return ErrorKind.USAGE.exitCode();
        }
        try {
            Optional<RemoteRuns> elsewhere = RemoteRuns.of(args);
            if (elsewhere.isEmpty()) {
                return sharptally.cli.Main.ofProcess(args);
            }
            RemoteRuns runs = elsewhere.get();
            System.setOut(runs.naming(out));
            System.setErr(runs.naming(err));
            runs.begin();
            return runs.end(sharptally.cli.Main.ofProcess(runs.arguments()), err);
        } catch (IOException | RuntimeException e) { // A store that the cluster has no jar for.
            err.println("sharp-tally: runs can't be reached: "
                    + Trouble.of(e, "the store of runs").what() + "; check the address of the store");
            return ErrorKind.INCOMPLETE.exitCode();
        }
    }
}
