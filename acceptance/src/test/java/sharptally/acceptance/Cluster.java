package sharptally.acceptance;

import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import sharptally.cli.cluster.OwnCluster;

/** A Spark of the tests' own, of the registry's jars: within one process, or a master and workers as processes. */
final class Cluster implements AutoCloseable {
    /** Most of what a cluster of the tests does is to start: the second compiler would only take from that. */
    private static final String STARTS_FAST = "-XX:TieredStopAtLevel=1 -XX:+UseSerialGC";

    private final Path folder;
    private final String master;
    private final Optional<OwnCluster> own;

    private Cluster(Path folder, String master, Optional<OwnCluster> own) {
        this.folder = folder;
        this.master = master;
        this.own = own;
    }

    /** Of threads of the driver. */
    static Cluster local(Path folder) {
        return new Cluster(folder, "local[2]", Optional.empty());
    }

    /** A master, and workers of one core each, as the demo has them. */
    static Cluster standalone(Path folder, int workers) throws Exception {
        OwnCluster own = OwnCluster.start(workers, folder, environment());
        return new Cluster(folder, own.master(), Optional.of(own));
    }

    String master() {
        return master;
    }

    /** Where Spark is; fetched the first time, and where it can't be, the test is skipped. */
    static String home() {
        Tool.Result made = Tool.process(Path.of("."), "", List.of("../spark/home/make"));
        assumeTrue(made.code() == 0, made.all());
        return made.out().strip();
    }

    private static Map<String, String> environment() {
        return Map.of(
                "SPARK_HOME",
                home(),
                "SPARK_SCALA_VERSION",
                "2.13",
                "SPARK_LOCAL_IP",
                "127.0.0.1",
                "SPARK_SUBMIT_OPTS",
                STARTS_FAST,
                "SHARP_TALLY_SPARK_JAR",
                Path.of("..", "spark", "target").toAbsolutePath().normalize().toString());
    }

    /** Carries a command out on the cluster. */
    Tool.Result run(Tool tool, List<String> arguments, String... settings) throws Exception {
        return tool.with(environment(settings), arguments(arguments));
    }

    private Map<String, String> environment(String... settings) throws Exception {
        Path configuration = Files.createDirectories(folder.resolve("conf"));
        Files.write(
                configuration.resolve("spark-defaults.conf"),
                Stream.concat(
                                Stream.of(
                                        "spark.ui.enabled false",
                                        "spark.executor.memory 1g",
                                        "spark.executor.extraJavaOptions " + STARTS_FAST),
                                Stream.of(settings))
                        .toList());
        Map<String, String> all = new java.util.HashMap<>(environment());
        all.put("SPARK_CONF_DIR", configuration.toString());
        return all;
    }

    private String[] arguments(List<String> arguments) {
        List<String> all = new ArrayList<>(arguments);
        all.addAll(1, List.of("--on", master));
        return all.toArray(String[]::new);
    }

    /** The same, without waiting for its end. */
    Process begin(Tool tool, List<String> arguments, String... settings) throws Exception {
        List<String> command =
                new ArrayList<>(List.of(Tool.home().resolve("bin/sharp-tally").toString()));
        command.addAll(List.of(arguments(arguments)));
        ProcessBuilder process = new ProcessBuilder(command)
                .directory(tool.folder().toFile())
                .redirectErrorStream(true)
                .redirectOutput(folder.resolve("begun.log").toFile());
        process.environment().putAll(environment(settings));
        return process.start();
    }

    /** Kills an executor that one of the workers has started; false where there is none now. */
    boolean killExecutor() {
        return ProcessHandle.current()
                .descendants()
                .filter(p -> p.info()
                        .commandLine()
                        .filter(c -> c.contains("CoarseGrainedExecutorBackend") && c.contains("--executor-id"))
                        .isPresent())
                .findFirst()
                .map(ProcessHandle::destroyForcibly)
                .orElse(false);
    }

    @Override
    public void close() {
        own.ifPresent(OwnCluster::close);
    }
}
