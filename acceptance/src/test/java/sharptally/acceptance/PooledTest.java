package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.atomic.AtomicBoolean;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Assumptions;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * Through a real pooler that gives each transaction to another session of the server: everything is found and done as
 * without it, and whoever uses these sessions as well finds them as they were.
 */
class PooledTest {
    private static final int SESSIONS = 6;

    @TempDir
    Path folder;

    private Database source;
    private Database target;
    private Process pooler;
    private int port;

    @BeforeEach
    void startPooler() throws Exception {
        Path program = Path.of("/usr/sbin/pgbouncer");
        Assumptions.assumeTrue(Files.isExecutable(program), "no pooler is installed");
        source = new Database(Database.Kind.POSTGRESQL, folder, "one");
        target = new Database(Database.Kind.POSTGRESQL, folder, "two");
        for (Database side : List.of(source, target)) {
            side.execute(
                    "CREATE TABLE gauge (id INT PRIMARY KEY, name TEXT, seen TIMESTAMPTZ, level DOUBLE PRECISION)",
                    "INSERT INTO gauge SELECT i, 'gauge ' || i, TIMESTAMPTZ '2026-03-29 00:00:00Z' + i * interval '1 hour',"
                            + " i / 7.0 FROM generate_series(1, 9000) i",
                    // Where a session stays as the server makes it, these differ from what we need.
                    "DO $$ BEGIN EXECUTE 'ALTER DATABASE ' || current_database() || ' SET timezone = ''America/St_Johns''';"
                            + " EXECUTE 'ALTER DATABASE ' || current_database() || ' SET extra_float_digits = 0'; END $$");
        }
        try (ServerSocket free = new ServerSocket(0)) {
            port = free.getLocalPort();
        }
        String server = source.address().replaceAll(".*@|/.*", "");
        Path own = Files.createTempDirectory("pooler");
        Files.writeString(own.resolve("users"), "\"postgres\" \"\"\n");
        Files.writeString(own.resolve("settings"), """
                [databases]
                * = host=%s port=%s user=postgres
                [pgbouncer]
                listen_addr = 127.0.0.1
                listen_port = %d
                unix_socket_dir =
                auth_type = any
                auth_file = %s/users
                pool_mode = transaction
                default_pool_size = %d
                ignore_startup_parameters = extra_float_digits
                """.formatted(
                        server.split(":")[0], server.split(":")[1], port, own, SESSIONS));
        List<String> command = new ArrayList<>();
        if (System.getProperty("user.name").equals("root")) {
            // Which it refuses to run as.
            Tool.process(own, "", List.of("chown", "-R", "nobody", own.toString()));
            command.addAll(List.of("setpriv", "--reuid=nobody", "--clear-groups"));
        }
        command.addAll(List.of(program.toString(), own.resolve("settings").toString()));
        pooler = new ProcessBuilder(command)
                .redirectErrorStream(true)
                .redirectOutput(folder.resolve("pooler.log").toFile())
                .start();
        for (int i = 0; i < 300 && !isListening(); i++) {
            assertThat(pooler.isAlive())
                    .as(Files.readString(folder.resolve("pooler.log")))
                    .isTrue();
            Thread.sleep(50);
        }
    }

    @AfterEach
    void stopPooler() {
        if (pooler != null) {
            pooler.destroyForcibly().onExit().join();
        }
    }

    private boolean isListening() {
        try (Socket socket = new Socket("127.0.0.1", port)) {
            return socket.isConnected();
        } catch (IOException e) {
            return false;
        }
    }

    private String pooled(Database database) {
        return database.address().replaceAll("@[^/]*/", "@127.0.0.1:" + port + "/");
    }

    private Connection connect(Database database) throws SQLException {
        return DriverManager.getConnection(
                "jdbc:" + pooled(database).replace("postgres@", "") + "?user=postgres&prepareThreshold=0");
    }

    /** What each session of the pool has of settings, tables and states, as somebody else finds it. */
    private Set<String> sessions(Database database) throws SQLException {
        Set<String> sessions = new TreeSet<>();
        List<Connection> open = new ArrayList<>();
        try {
            // As many transactions at once as there are sessions.
            for (int i = 0; i < SESSIONS; i++) {
                Connection connection = connect(database);
                open.add(connection);
                connection.setAutoCommit(false);
                try (Statement statement = connection.createStatement();
                        ResultSet row = statement.executeQuery(
                                "SELECT pg_backend_pid(), (SELECT string_agg(name || '=' || setting, ' ' ORDER BY name)"
                                        + " FROM pg_settings WHERE source = 'session' AND name NOT IN ('application_name')),"
                                        + " (SELECT count(*) FROM pg_class WHERE relpersistence = 't'),"
                                        + " (SELECT count(*) FROM pg_prepared_statements)")) {
                    row.next();
                    sessions.add(row.getString(2) + " " + row.getString(3) + " " + row.getString(4));
                }
            }
        } finally {
            for (Connection connection : open) {
                connection.rollback();
                connection.close();
            }
        }
        return sessions;
    }

    @Test
    void sessionsOfOthersStayAsTheyWere() throws Exception {
        target.execute(
                "UPDATE gauge SET level = level + 1 WHERE id % 900 = 5",
                "UPDATE gauge SET seen = seen + interval '1 ms' WHERE id = 77",
                "DELETE FROM gauge WHERE id = 4000",
                "INSERT INTO gauge VALUES (-1, NULL, NULL, NULL)");
        Set<String> before = sessions(target);
        assertThat(before).hasSize(1);
        Tool tool = new Tool(folder);
        assertThat(tool.run("compare", source.address(), target.address()).code())
                .isEqualTo(1);
        List<String> plain = tool.findings();
        assertThat(plain).hasSize(13);
        AtomicBoolean done = new AtomicBoolean();
        // Others' short transactions, so that ours come to other sessions each time.
        Connection connection = connect(target);
        Thread others = new Thread(() -> {
            try (connection;
                    Statement statement = connection.createStatement()) {
                while (!done.get()) {
                    statement.execute("SELECT pg_sleep(0.001)");
                }
            } catch (SQLException e) {
                throw new IllegalStateException(e);
            }
        });
        others.start();
        try {
            for (String method : List.of("stream", "checksum", "auto")) {
                for (List<String> more : List.of(List.<String>of(), List.of("--no-snapshot"))) {
                    List<String> command = new ArrayList<>(List.of("compare", pooled(source), pooled(target)));
                    command.addAll(List.of("--method", method, "--workers", "2", "--range-rows", "1000"));
                    command.addAll(more);
                    Tool.Result result = tool.run(command.toArray(String[]::new));
                    assertThat(result.code()).as(result.all()).isEqualTo(1);
                    assertThat(tool.findings()).as(method + more).isEqualTo(plain);
                }
            }
            Tool.Result survey = tool.run("survey", pooled(source));
            assertThat(survey.out()).contains("of a pooler").contains("America/St_Johns");
            assertThat(tool.run("script").code()).isZero();
            for (String script : List.of("script.sql", "undo.sql")) {
                Tool.Result run = Tool.process(
                        folder,
                        "",
                        List.of(
                                "psql",
                                "-q",
                                "-d",
                                pooled(target),
                                "-f",
                                tool.latestRun().resolve(script).toString()));
                assertThat(run.code()).as(run.all()).isZero();
                assertThat(run.out()).isEqualTo("13 changes made and committed\n");
            }
            Tool.Result applied = tool.run("apply", tool.latestRun().toString(), "--yes");
            assertThat(applied.code()).as(applied.all()).isZero();
        } finally {
            done.set(true);
            others.join();
        }
        assertThat(tool.run("compare", source.address(), target.address()).code())
                .isZero();
        assertThat(sessions(target)).isEqualTo(before);
        assertThat(sessions(source)).isEqualTo(before);
    }

    /** All connections of a side see one state, although each of their transactions could be another session's. */
    @Test
    void oneStateIsReadByAllWorkers() throws Exception {
        AtomicBoolean done = new AtomicBoolean();
        Connection writer = source.connect();
        Thread changing = new Thread(() -> {
            try (writer;
                    Statement statement = writer.createStatement()) {
                writer.setAutoCommit(false);
                for (int i = 1; !done.get(); i++) {
                    // Of each state, the sum is the same.
                    statement.execute("UPDATE gauge SET level = level + 1 WHERE id = " + (i % 4000 + 1));
                    statement.execute("UPDATE gauge SET level = level - 1 WHERE id = " + (9000 - i % 4000));
                    writer.commit();
                }
            } catch (SQLException e) {
                throw new IllegalStateException(e);
            }
        });
        changing.start();
        try {
            Tool tool = new Tool(folder);
            Tool.Result result = tool.run(
                    "compare",
                    pooled(source),
                    pooled(target),
                    "--workers",
                    "3",
                    "--range-rows",
                    "500",
                    "--method",
                    "stream");
            assertThat(result.code()).as(result.all()).isLessThan(2);
            assertThat(result.all()).doesNotContain("not of one state");
            double sum = 0;
            for (String line : tool.findings()) {
                var values = new com.fasterxml.jackson.databind.ObjectMapper()
                        .readTree(line)
                        .at("/differs/level");
                sum += values.at("/source/double").asDouble()
                        - values.at("/target/double").asDouble();
            }
            assertThat(sum).isBetween(-1e-6, 1e-6);
        } finally {
            done.set(true);
            changing.join();
        }
    }
}
