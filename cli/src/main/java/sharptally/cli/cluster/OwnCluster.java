package sharptally.cli.cluster;

import java.io.IOException;
import java.net.ServerSocket;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.concurrent.TimeUnit;

/** A Spark on this machine alone, for trials: a master, and workers of one core each, as processes. */
public final class OwnCluster implements AutoCloseable {
    private static final String HERE = "127.0.0.1";

    private final Path home;
    private final Path folder;
    private final String master;
    private final List<Process> processes = new ArrayList<>();

    private OwnCluster(Path home, Path folder, String master) {
        this.home = home;
        this.folder = folder;
        this.master = master;
    }

    /**
     * @param folder for its logs, and what it works with
     * @param environment in which {@code SPARK_HOME} says where Spark is
     * @throws sharptally.core.fault.ToolException when there is no Spark here
     */
    public static OwnCluster start(int workers, Path folder, Map<String, String> environment) throws IOException {
        String port = Integer.toString(freePort());
        OwnCluster cluster = new OwnCluster(Submission.home(environment), folder, "spark://" + HERE + ":" + port);
        try {
            cluster.startAll(workers, port);
            return cluster;
        } catch (IOException e) {
            cluster.close();
            throw e;
        }
    }

    private void startAll(int workers, String port) throws IOException {
        start("master", "org.apache.spark.deploy.master.Master", "--port", port);
        for (int i = 1; i <= workers; i++) {
            start(
                    "worker" + i,
                    "org.apache.spark.deploy.worker.Worker",
                    "--cores",
                    "1",
                    "--memory",
                    "2g",
                    "--work-dir",
                    folder.resolve("worker" + i).toString(),
                    master);
        }
    }

    private static int freePort() throws IOException {
        try (ServerSocket socket = new ServerSocket(0)) {
            return socket.getLocalPort();
        }
    }

    private void start(String name, String type, String... words) throws IOException {
        List<String> command = new ArrayList<>(Submission.java());
        command.addAll(
                List.of("-Xmx512m", "-cp", home.resolve("jars") + "/*", type, "--host", HERE, "--webui-port", "0"));
        command.addAll(Arrays.asList(words));
        ProcessBuilder process = new ProcessBuilder(command)
                .redirectErrorStream(true)
                .redirectOutput(folder.resolve(name + ".log").toFile());
        process.environment().put("SPARK_HOME", home.toString());
        process.environment().put("SPARK_LOCAL_IP", HERE);
        process.environment().put(Submission.SCALA, Submission.scala(home));
        processes.add(process.start());
    }

    /** Its address. */
    public String master() {
        return master;
    }

    @Override
    public void close() {
        processes.stream().flatMap(Process::descendants).forEach(ProcessHandle::destroyForcibly);
        processes.forEach(Process::destroyForcibly);
        processes.forEach(p -> p.onExit().orTimeout(10, TimeUnit.SECONDS).join());
    }
}
