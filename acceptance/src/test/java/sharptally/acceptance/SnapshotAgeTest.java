package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.atomic.AtomicBoolean;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What a server must keep for a reader is as old as was allowed, whatever the method; and what is found is the same. */
@SuppressWarnings("try")
@InTurn(0)
class SnapshotAgeTest {
    @TempDir
    Path folder;

    /** The ages that our transactions reach on a server, in seconds, as a person sees them who looks on. */
    private static final class Onlooker implements AutoCloseable {
        private final AtomicBoolean done = new AtomicBoolean();
        private final Thread thread;
        private double oldest;

        Onlooker(Connection connection) {
            thread = new Thread(() -> {
                try (connection;
                        Statement statement = connection.createStatement()) {
                    while (!done.get()) {
                        try (ResultSet row = statement.executeQuery(
                                "SELECT coalesce(max(extract(epoch FROM clock_timestamp() - xact_start)), 0)"
                                        + " FROM pg_stat_activity WHERE application_name LIKE 'sharp-tally%'"
                                        + " AND xact_start IS NOT NULL")) {
                            row.next();
                            oldest = Math.max(oldest, row.getDouble(1));
                        }
                        Thread.sleep(20);
                    }
                } catch (SQLException | InterruptedException e) {
                    throw new IllegalStateException(e);
                }
            });
            thread.start();
        }

        @Override
        public void close() throws InterruptedException {
            done.set(true);
            thread.join();
        }
    }

    @ParameterizedTest
    @CsvSource({"stream, 1", "stream, 2", "checksum, 2"})
    void noneOfOursGetsOlder(String method, String workers) throws Exception {
        Database source = new Database(Database.Kind.POSTGRESQL, folder, "one");
        Database target = new Database(Database.Kind.POSTGRESQL, folder, "two");
        for (Database side : List.of(source, target)) {
            side.execute(
                    "CREATE TABLE gauge (id INT PRIMARY KEY, level INT)",
                    "INSERT INTO gauge SELECT i, i % 700 FROM generate_series(1, 30000) i",
                    "CREATE TABLE small AS SELECT * FROM gauge WHERE id < 300",
                    "ALTER TABLE small ADD PRIMARY KEY (id)",
                    "ANALYZE gauge");
        }
        target.execute("UPDATE gauge SET level = -1 WHERE id % 100 = 7", "DELETE FROM gauge WHERE id = 29999");
        List<String> command = new ArrayList<>(List.of("compare", source.address(), target.address()));
        command.addAll(List.of("--method", method, "--workers", workers, "--range-rows", "10000", "--pace", "6000"));
        Tool tool = new Tool(folder);
        Connection connection = source.connect();
        Onlooker usual = new Onlooker(connection);
        try (usual) {
            assertThat(tool.run(command.toArray(String[]::new)).code()).isEqualTo(1);
        }
        List<String> plain = tool.findings();
        assertThat(plain).hasSize(301);
        assertThat(usual.oldest).as("seconds, without a limit").isGreaterThan(2.5);
        command.addAll(List.of("--max-snapshot-age", "1s"));
        Connection again = source.connect();
        Onlooker limited = new Onlooker(again);
        try (limited) {
            assertThat(tool.run(command.toArray(String[]::new)).code()).isEqualTo(1);
        }
        assertThat(tool.findings()).isEqualTo(plain);
        // A batch of rows, or a range, is begun and not left before it ends.
        System.out.println(method + " " + usual.oldest + " s, limited " + limited.oldest);
        assertThat(limited.oldest).as("seconds, of 1 allowed").isBetween(0.0, usual.oldest * 0.75);
    }
}
