package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Lag is told from loss, on a primary and its standby and on two tables that come to be the same, under writers. */
@SuppressWarnings("try")
@InTurn(3)
class SettleTest {
    private static final String READINGS =
            "CREATE TABLE reading (id INTEGER PRIMARY KEY, level INTEGER NOT NULL, remark VARCHAR(40))";
    private static final String FILLED =
            "INSERT INTO reading SELECT n, n % 500, 'at rest' FROM generate_series(1, 3000) AS n";

    @TempDir
    Path folder;

    private interface Step {
        void take() throws Exception;
    }

    private static CompletableFuture<Void> later(long millis, Step step) {
        return CompletableFuture.runAsync(() -> {
            try {
                Thread.sleep(millis);
                step.take();
            } catch (Exception e) {
                throw new IllegalStateException(e);
            }
        });
    }

    private static void execute(Connection connection, String... statements) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            for (String sql : statements) {
                statement.execute(sql);
            }
        }
    }

    /** A copy of the primary's files, taken as a backup is, which then replays what the primary writes. */
    private EmbeddedPostgres standby(EmbeddedPostgres primary, Path data) throws Exception {
        Path copy = folder.resolve("standby");
        try (Connection connection = primary.getPostgresDatabase().getConnection()) {
            execute(connection, "SELECT pg_backup_start('standby', true)");
            try (Stream<Path> all = Files.walk(data)) {
                for (Path from : all.toList()) {
                    Path to = copy.resolve(data.relativize(from).toString());
                    if (Files.isDirectory(from)) {
                        Files.createDirectories(to);
                    } else if (!from.endsWith("postmaster.pid") && !from.endsWith("postmaster.opts")) {
                        Files.copy(from, to);
                    }
                }
            } catch (IOException e) {
                throw new IllegalStateException("the files of the primary were not copied", e);
            }
            try (Statement statement = connection.createStatement();
                    ResultSet row = statement.executeQuery("SELECT labelfile FROM pg_backup_stop()")) {
                row.next();
                Files.writeString(copy.resolve("backup_label"), row.getString(1));
            }
        }
        Files.setPosixFilePermissions(copy, PosixFilePermissions.fromString("rwx------"));
        Files.createFile(copy.resolve("standby.signal"));
        Files.writeString(
                copy.resolve("postgresql.auto.conf"),
                "primary_conninfo = 'host=127.0.0.1 port=" + primary.getPort() + " user=postgres'\n");
        return EmbeddedPostgres.builder()
                .setDataDirectory(copy)
                .setCleanDataDirectory(false)
                .start();
    }

    @ParameterizedTest
    @CsvSource({"auto, 1", "checksum, 2"})
    void aStandbyThatLagsIsTheSame(String method, String workers) throws Exception {
        Path data = folder.resolve("primary");
        try (EmbeddedPostgres primary = EmbeddedPostgres.builder()
                        .setDataDirectory(data)
                        .setServerConfig("fsync", "off")
                        .start();
                Connection writing = primary.getPostgresDatabase().getConnection()) {
            execute(writing, READINGS, FILLED);
            try (EmbeddedPostgres standby = standby(primary, data);
                    Connection replaying = standby.getPostgresDatabase().getConnection()) {
                String[] compare = {
                    "compare",
                    "postgresql://postgres@127.0.0.1:" + primary.getPort() + "/postgres",
                    "postgresql://postgres@127.0.0.1:" + standby.getPort() + "/postgres",
                    "--method",
                    method,
                    "--workers",
                    workers,
                    "--settle",
                    "60s",
                    "--format",
                    "json"
                };
                Tool tool = Tool.apart(folder);
                execute(replaying, "SELECT pg_wal_replay_pause()");
                execute(
                        writing,
                        "UPDATE reading SET level = level + 1 WHERE id % 100 = 0",
                        "DELETE FROM reading WHERE id % 500 = 1",
                        "INSERT INTO reading SELECT n, 1, 'new' FROM generate_series(3001, 3010) AS n");
                CompletableFuture<Void> resumed = later(
                        4_000,
                        () -> execute(standby.getPostgresDatabase().getConnection(), "SELECT pg_wal_replay_resume()"));
                // What is written while they are compared arrives too, and costs no more than its way.
                AtomicBoolean done = new AtomicBoolean();
                CompletableFuture<Void> others = later(0, () -> {
                    try (Connection own = primary.getPostgresDatabase().getConnection()) {
                        for (int n = 4_000; !done.get(); n++) {
                            execute(own, "INSERT INTO reading VALUES (" + n + ", 0, 'late')");
                            Thread.sleep(100);
                        }
                    }
                });
                long began = System.nanoTime();
                Tool.Result settled = tool.run(compare);
                double seconds = (System.nanoTime() - began) / 1e9;
                done.set(true);
                others.join();
                resumed.join();
                assertThat(settled.code()).as(settled.all()).isZero();
                JsonNode how = settled.json().at("/run/settling");
                assertThat(how.get("settled").asInt()).as(settled.all()).isGreaterThanOrEqualTo(46);
                assertThat(how.get("moving").asInt()).isZero();
                assertThat(how.get("replayed").asBoolean()).as(settled.all()).isTrue();
                assertThat(seconds).as("it does not wait longer than the lag").isLessThan(50);
                assertThat(tool.run("show", "--view", "result").out())
                        .containsPattern("same: every row of 1 table was compared, nothing differs;"
                                + " from \\S+Z to \\S+Z \\d+ rows settled");
                // Without a word of lag they are different, for a moment.
                execute(replaying, "SELECT pg_wal_replay_pause()");
                execute(writing, "DELETE FROM reading WHERE id = 7");
                assertThat(tool.run(List.of(compare).subList(0, 7).toArray(String[]::new))
                                .code())
                        .isEqualTo(1);
                execute(replaying, "SELECT pg_wal_replay_resume()");
            }
        }
    }

    @ParameterizedTest
    @CsvSource({"true", "false"})
    void lossStaysAndWhatMovesIsNoLoss(boolean moves) throws Exception {
        Database source = new Database(Database.Kind.POSTGRESQL, folder, "one");
        Database target = new Database(Database.Kind.POSTGRESQL, folder, "two");
        source.execute(READINGS, FILLED);
        target.execute(
                READINGS, FILLED, "DELETE FROM reading WHERE id <= 8", "UPDATE reading SET level = -1 WHERE id = 9");
        AtomicBoolean done = new AtomicBoolean();
        CompletableFuture<Void> hot = later(0, () -> {
            for (int n = 0; moves && !done.get(); n++) {
                target.execute("UPDATE reading SET remark = 'seen " + n + "' WHERE id = 100");
                Thread.sleep(50);
            }
        });
        // What is on its way arrives once they were compared.
        CompletableFuture<Void> late = later(0, () -> {
            while (!isComplete(folder.resolve("sharp-tally-runs"))) {
                Thread.sleep(20);
            }
            target.execute("INSERT INTO reading SELECT n, n % 500, 'at rest' FROM generate_series(1, 5) AS n");
        });
        Thread.sleep(300);
        Tool tool = Tool.apart(folder);
        Tool.Result compared =
                tool.run("compare", source.address(), target.address(), "--settle", "3s", "--format", "json");
        late.join();
        assertThat(compared.code()).as(compared.all()).isEqualTo(moves ? 5 : 1);
        JsonNode run = compared.json().get("run");
        assertThat(run.at("/settling/settled").asInt()).as(compared.all()).isEqualTo(5);
        assertThat(run.at("/settling/moving").asInt()).as(compared.all()).isEqualTo(moves ? 1 : 0);
        assertThat(run.at("/matches/0/missing").asInt()).isEqualTo(3);
        assertThat(run.at("/matches/0/changed").asInt()).isEqualTo(moves ? 2 : 1);
        Tool.Result shown = tool.run("show", "--format", "jsonl");
        assertThat(shown.lines()).as(shown.all()).hasSize(4);
        assertThat(shown.out()).doesNotContain("seen ");
        if (moves) {
            String moving = tool.latestRun().resolve("moving.jsonl").toString();
            assertThat(tool.run("show").out()).contains("1 kept changing (--selection ");
            assertThat(tool.run("show", "--selection", moving).out()).contains("seen ");
            Tool.Result result = tool.run("show", "--view", "result");
            assertThat(result.out())
                    .contains("5 rows settled and 1 kept changing")
                    .contains("nothing was proved");
        }
        // What is carried over is what was lost, and a row that moves is left alone.
        Tool.Result applied = tool.run("apply", "--yes");
        done.set(true);
        hot.join();
        assertThat(applied.out()).as(applied.all()).contains("4 changes made and committed");
        Tool.Result again = tool.run("compare", source.address(), target.address(), "--settle", "1s");
        assertThat(again.code()).as(again.all()).isEqualTo(moves ? 1 : 0);
    }

    @Test
    void whatIsStoppedIsAsItWasCompared() throws Exception {
        Database source = new Database(Database.Kind.SQLITE, folder, "one");
        Database target = new Database(Database.Kind.SQLITE, folder, "two");
        source.execute(READINGS, "INSERT INTO reading VALUES (1, 1, 'a'), (2, 2, 'b')");
        target.execute(READINGS, "INSERT INTO reading VALUES (1, 1, 'a')");
        Tool tool = new Tool(folder);
        assertThat(tool.run("compare", source.address(), target.address(), "--settle", "0s")
                        .code())
                .isEqualTo(2);
        assertThat(folder.resolve("sharp-tally-runs")).doesNotExist();
        Process process = new ProcessBuilder(
                        Tool.home().resolve("bin/sharp-tally").toString(),
                        "compare",
                        source.address(),
                        target.address(),
                        "--settle",
                        "10m")
                .directory(folder.toFile())
                .redirectErrorStream(true)
                .redirectOutput(folder.resolve("said.txt").toFile())
                .start();
        Path runs = folder.resolve("sharp-tally-runs");
        long until = System.nanoTime() + 30_000_000_000L;
        while (System.nanoTime() < until && !isComplete(runs)) {
            Thread.sleep(100);
        }
        Thread.sleep(1_500);
        process.destroyForcibly().waitFor();
        Tool.Result shown = tool.run("show");
        assertThat(shown.code()).as(shown.all()).isZero();
        assertThat(shown.out()).contains("1 finding in run");
        assertThat(tool.run("show", "--view", "result").out()).doesNotContain("settled");
    }

    private static boolean isComplete(Path runs) throws IOException {
        if (!Files.isDirectory(runs)) {
            return false;
        }
        try (Stream<Path> all = Files.list(runs)) {
            for (Path file : all.map(run -> run.resolve("run.json")).toList()) {
                if (Files.exists(file) && Files.readString(file).contains("\"state\" : \"complete\"")) {
                    return true;
                }
            }
        }
        return false;
    }
}
