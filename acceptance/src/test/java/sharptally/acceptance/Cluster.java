package sharptally.acceptance;

import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;

/** A Spark of the tests' own, of the registry's jars: within one process, or a master and workers as processes. */
final class Cluster implements AutoCloseable {
    private static final List<String> OPENED = List.of(
            "java.lang",
            "java.lang.invoke",
            "java.net",
            "java.nio",
            "java.util",
            "java.util.concurrent",
            "sun.nio.ch",
            "sun.util.calendar");

    private final Path folder;
    private final String master;
    private final List<Process> processes = new ArrayList<>();

    private Cluster(Path folder, String master) {
        this.folder = folder;
        this.master = master;
    }

    /** Of threads of the driver. */
    static Cluster local(Path folder) {
        return new Cluster(folder, "local[2]");
    }

    /** A master, and workers of one core each. */
    static Cluster standalone(Path folder, int workers) throws Exception {
        int port = freePort();
        Cluster cluster = new Cluster(folder, "spark://127.0.0.1:" + port);
        cluster.start(
                "master",
                "org.apache.spark.deploy.master.Master",
                "--host",
                "127.0.0.1",
                "--port",
                "" + port,
                "--webui-port",
                "0");
        for (int i = 0; i < workers; i++) {
            cluster.start(
                    "worker" + i,
                    "org.apache.spark.deploy.worker.Worker",
                    "--host",
                    "127.0.0.1",
                    "--cores",
                    "1",
                    "--memory",
                    "2g",
                    "--webui-port",
                    "0",
                    "--work-dir",
                    folder.resolve("worker" + i).toString(),
                    cluster.master);
        }
        return cluster;
    }

    private static int freePort() throws Exception {
        try (java.net.ServerSocket socket = new java.net.ServerSocket(0)) {
            return socket.getLocalPort();
        }
    }

    /** Where Spark is; fetched the first time, and where it can't be, the test is skipped. */
    static String home() {
        Tool.Result made = Tool.process(Path.of("."), "", List.of("../spark/home/make"));
        assumeTrue(made.code() == 0, made.all());
        return made.out().strip();
    }

    private void start(String name, String... words) throws Exception {
        List<String> command = new ArrayList<>(
                List.of(Path.of(System.getProperty("java.home"), "bin", "java").toString(), "-Xmx512m"));
        OPENED.forEach(p -> command.add("--add-opens=java.base/" + p + "=ALL-UNNAMED"));
        command.addAll(List.of("-cp", home() + "/jars/*"));
        command.addAll(Arrays.asList(words));
        ProcessBuilder process = new ProcessBuilder(command)
                .redirectErrorStream(true)
                .redirectOutput(folder.resolve(name + ".log").toFile());
        process.environment().putAll(environment());
        processes.add(process.start());
    }

    private static Map<String, String> environment() {
        return Map.of(
                "SPARK_HOME",
                home(),
                "SPARK_SCALA_VERSION",
                "2.13",
                "SPARK_LOCAL_IP",
                "127.0.0.1",
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
                Stream.concat(Stream.of("spark.ui.enabled false", "spark.executor.memory 1g"), Stream.of(settings))
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
        return ProcessHandle.allProcesses()
                .filter(p -> p.info()
                        .commandLine()
                        .filter(c -> c.contains("CoarseGrainedExecutorBackend") && c.contains("spark://"))
                        .isPresent())
                .filter(p -> p.parent()
                        .filter(parent -> processes.stream().anyMatch(own -> own.pid() == parent.pid()))
                        .isPresent())
                .findFirst()
                .map(ProcessHandle::destroyForcibly)
                .orElse(false);
    }

    @Override
    public void close() {
        processes.forEach(p -> p.descendants().forEach(ProcessHandle::destroyForcibly));
        processes.forEach(Process::destroyForcibly);
        processes.forEach(p -> p.onExit().orTimeout(10, TimeUnit.SECONDS).join());
    }
}
