package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.util.List;
import java.util.Random;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Runs that end early, by a kill or by a limit, and go on; and runs over some of the rows. */
class ResumeTest {
    private static final int ROWS = 40_000;

    @TempDir
    Path folder;

    private Tool tool;
    private Database source;
    private Database target;

    @BeforeEach
    void twoTables() throws Exception {
        tool = new Tool(folder);
        source = filled(Database.Kind.POSTGRESQL, "old", 0);
        target = filled(Database.Kind.POSTGRESQL, "new", 1);
    }

    /** On the target, each 97th row has another value, each 501st is missing, and all are a day later from 39,000 on. */
    private Database filled(Database.Kind kind, String name, int changes) throws Exception {
        Database database = new Database(kind, folder, name);
        database.execute("CREATE TABLE reading (id BIGINT PRIMARY KEY, day DATE NOT NULL, remark VARCHAR(60))");
        try (Connection connection = database.connect();
                var insert = connection.prepareStatement("INSERT INTO reading VALUES (?, ?, ?)")) {
            connection.setAutoCommit(false);
            for (int i = 1; i <= ROWS; i++) {
                if (changes > 0 && i % 501 == 0) {
                    continue;
                }
                insert.setLong(1, i);
                boolean late = changes > 0 && i > 39_000;
                var day = java.time.LocalDate.of(2026, 1, 1).plusDays(i / 1000 + (late ? 1 : 0));
                if (kind == Database.Kind.SQLITE) {
                    insert.setString(2, day.toString());
                } else {
                    insert.setObject(2, day);
                }
                insert.setString(3, "remark " + (changes > 0 && i % 97 == 0 ? "changed" : i));
                insert.addBatch();
            }
            insert.executeBatch();
            connection.commit();
        }
        return database.execute("ANALYZE reading");
    }

    private String[] compare(String... options) {
        List<String> all = new java.util.ArrayList<>(
                List.of("compare", source.address(), target.address(), "--range-rows", "2000"));
        all.addAll(List.of(options));
        return all.toArray(new String[0]);
    }

    private List<String> findings(String run) throws Exception {
        try (var lines = Files.lines(folder.resolve(run).resolve("findings/reading.jsonl"))) {
            return lines.toList();
        }
    }

    @Test
    void killedAtAnyMomentItGoesOnAndFindsTheSame() throws Exception {
        assertThat(tool.run(compare("--method", "stream", "--runs", "whole")).code())
                .isEqualTo(1);
        List<String> expected = findings("whole/" + only("whole"));
        long seed = Seed.next();
        System.out.println("seed " + seed);
        Random random = new Random(seed);
        for (String method : List.of("stream", "checksum")) {
            String runs = "killed-" + method;
            List<String> command = new java.util.ArrayList<>(
                    List.of(Tool.home().resolve("bin/sharp-tally").toString()));
            // Slow enough to be killed before its end.
            command.addAll(List.of(compare("--method", method, "--runs", runs, "--pace", "15000")));
            Process process = new ProcessBuilder(command)
                    .directory(folder.toFile())
                    .redirectErrorStream(true)
                    .redirectOutput(folder.resolve("log").toFile())
                    .start();
            long deadline = System.nanoTime() + TimeUnit.SECONDS.toNanos(60);
            while (!hasFinishedRanges(runs, 2 + random.nextInt(4)) && System.nanoTime() < deadline) {
                Thread.sleep(20);
            }
            // The launcher becomes the program: one process.
            process.destroyForcibly().waitFor();
            String run = only(runs);
            Tool.Result resumed = tool.run("compare", "--resume", runs + "/" + run);
            assertThat(resumed.code()).as(resumed.all()).isEqualTo(1);
            assertThat(resumed.out()).contains("interrupted and resumed");
            assertThat(findings(runs + "/" + run)).isEqualTo(expected);
            Tool.Result again = tool.run("compare", "--resume", runs + "/" + run);
            assertThat(again.code()).isEqualTo(2);
            assertThat(again.err()).contains("this run is complete already");
        }
    }

    private boolean hasFinishedRanges(String runs, int ranges) throws Exception {
        Path folder = this.folder.resolve(runs);
        if (!Files.isDirectory(folder)) {
            return false;
        }
        Path journal = folder.resolve(only(runs)).resolve("journal.jsonl");
        return Files.exists(journal) && Files.readString(journal).split("\"part\"").length > ranges;
    }

    private String only(String runs) throws Exception {
        try (var all = Files.list(folder.resolve(runs))) {
            return all.findFirst().map(p -> p.getFileName().toString()).orElse("none");
        }
    }

    @Test
    void limitEndsTheRunWithWhatItFoundAndItGoesOn() throws Exception {
        Tool.Result limited = tool.run(compare("--stop-after-findings", "100"));
        assertThat(limited.code()).as(limited.all()).isEqualTo(5);
        assertThat(limited.out()).contains("stopped at 100 findings, as asked");
        String run = tool.latestRun().toString();
        assertThat(tool.run("compare", "--resume", run).out()).contains("different: 0 of 1 table same");
        Tool.Result timed = tool.run(compare("--stop-after", "1s", "--pace", "1000"));
        assertThat(timed.code()).as(timed.all()).isEqualTo(5);
        assertThat(timed.out()).contains("stopped after 1 s, as asked");
    }

    private static String verdict(Tool.Result result) {
        return result.out()
                .lines()
                .filter(l -> l.startsWith("different"))
                .findFirst()
                .orElseThrow();
    }

    @Test
    void someRowsAloneAreComparedAndTheResultSaysSo() throws Exception {
        Tool.Result keys = tool.run(compare("--key-range", "1..97"));
        assertThat(keys.code()).as(keys.all()).isZero();
        assertThat(keys.out()).contains("only keys 1..97", "same: every row asked for of 1 table was compared");
        assertThat(tool.run(compare("--key-range", "97..98")).out()).contains("1 changed, 0 missing, 0 extra");
        assertThat(tool.run(compare("--where", "id between 490 and 510")).out())
                .contains("0 changed, 1 missing, 0 extra");
        // Rows from 39,001 on are a day later on one side: told as changed, not as missing and extra.
        Tool.Result since = tool.run(compare("--changed-since", "day", "2026-02-10"));
        assertThat(since.out()).as(since.all()).contains("998 changed, 0 missing, 0 extra");
        Tool.Result sample = tool.run(compare("--sample", "5%"));
        assertThat(sample.out()).contains("a sample: 5.0 % of the keys");
        assertThat(verdict(tool.run(compare("--sample", "5%", "--method", "checksum"))))
                .isEqualTo(verdict(sample));
        // SQLite can't choose the keys itself; they are the same ones all the same.
        Database lite = filled(Database.Kind.SQLITE, "lite", 1);
        assertThat(verdict(tool.run("compare", source.address(), lite.address(), "--sample", "5%")))
                .isEqualTo(verdict(sample));
        assertThat(tool.run(compare("--key-range", "one..two")).err()).contains("not a value of column id: one");
    }

    @Test
    void onlyWhatWasNotTheSameIsComparedAgain() throws Exception {
        Database source = new Database(Database.Kind.SQLITE, folder, "failed-source");
        Database target = new Database(Database.Kind.SQLITE, folder, "failed-target");
        for (Database side : List.of(source, target)) {
            for (String table : List.of("station", "gauge", "reading")) {
                side.execute(
                        "CREATE TABLE " + table + " (id INTEGER PRIMARY KEY, name TEXT)",
                        "INSERT INTO " + table + " VALUES (1, 'a'), (2, 'b')");
            }
        }
        source.execute("CREATE TABLE tide (id INTEGER PRIMARY KEY)");
        target.execute("DELETE FROM gauge WHERE id = 2");
        Tool tool = new Tool(folder);
        assertThat(tool.run("compare", source.address(), target.address()).code())
                .isEqualTo(1);
        String run = tool.latestRun().toString();
        target.execute("INSERT INTO gauge VALUES (2, 'b')", "DELETE FROM reading");
        Tool.Result again = tool.run("compare", "--only-failed", run);
        assertThat(again.code()).as(again.all()).isEqualTo(1);
        assertThat(again.out())
                .containsPattern("tide .*missing table")
                .containsPattern("gauge +2 +2 +2 +0")
                .doesNotContain("station  ", "reading  ")
                .contains("not all rows were asked for: only tables that were not the same in run ");
        target.execute("CREATE TABLE tide (id INTEGER PRIMARY KEY)");
        Tool.Result third =
                tool.run("compare", "--only-failed", tool.latestRun().toString());
        assertThat(third.code()).as(third.all()).isZero();
        assertThat(third.out()).contains("same: every row asked for of 1 table was compared");
        Tool.Result none = tool.run("compare", "--only-failed", tool.latestRun().toString());
        assertThat(none.code()).as(none.all()).isEqualTo(2);
        assertThat(none.err()).contains("none differed, and each was compared to its end");
        assertThat(tool.run("compare", source.address(), target.address(), "--only-failed", run)
                        .err())
                .contains("that run knows what was asked of it");
        // All of them once more, and it shows what nobody had looked at.
        assertThat(tool.run("compare", source.address(), target.address()).code())
                .isEqualTo(1);
    }
}
