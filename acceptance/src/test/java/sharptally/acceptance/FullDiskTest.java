package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import sharptally.acceptance.Database.Kind;

/** Changes while a disk is full: that of the run, or that of the target. Needs the right to mount one. */
@InTurn(3)
class FullDiskTest {
    private static final int ROWS = 3_000;

    @TempDir
    Path folder;

    private Path small;
    private Tool tool;
    private Database source;
    private Database target;

    @BeforeEach
    void mount() throws Exception {
        small = Files.createDirectory(folder.resolve("small"));
        tool = Tool.apart(folder);
        Tool.Result mounted =
                Tool.process(folder, "", List.of("mount", "-t", "tmpfs", "-o", "size=4m", "tmpfs", small.toString()));
        assumeTrue(mounted.code() == 0, mounted.all());
    }

    @AfterEach
    void unmount() {
        Tool.process(folder, "", List.of("umount", "-l", small.toString()));
    }

    private String address(Database database, Path where) {
        String address = database.address();
        int colon = address.indexOf(':') + 1;
        return address.substring(0, colon) + where.resolve(address.substring(colon));
    }

    /**
     * @param where the target's folder
     * @param words how long a row is that the target lacks, in words of eight bytes
     */
    private Tool.Result compare(Kind kind, Path where, int words, String... more) throws Exception {
        source = new Database(Kind.SQLITE, folder, "old")
                .execute("CREATE TABLE reading (id INTEGER PRIMARY KEY, v TEXT)");
        target = new Database(kind, where, "new")
                .execute(
                        "CREATE TABLE reading (id INTEGER PRIMARY KEY, v VARCHAR(9000))",
                        "INSERT INTO reading VALUES (7, 'as it was'), (-1, 'extra')");
        try (Connection connection = source.connect();
                PreparedStatement insert = connection.prepareStatement("INSERT INTO reading VALUES (?, ?)")) {
            connection.setAutoCommit(false);
            for (int id = 1; id <= ROWS; id++) {
                insert.setInt(1, id);
                insert.setString(2, "a level ".repeat(words));
                insert.addBatch();
            }
            insert.executeBatch();
            connection.commit();
        }
        List<String> command =
                new java.util.ArrayList<>(List.of("compare", address(source, folder), address(target, where)));
        command.addAll(List.of(more));
        return tool.run(command.toArray(new String[0]));
    }

    private List<String> rows() throws Exception {
        return target.values("SELECT id FROM reading WHERE v <> 'nothing' ORDER BY id");
    }

    /** Takes all room of the small disk but a little. */
    private Path filler(int kilobytesLeft) throws Exception {
        Path filler = small.resolve("filler");
        long free = Files.getFileStore(small).getUsableSpace() - kilobytesLeft * 1_024L;
        Files.write(filler, new byte[(int) free]);
        return filler;
    }

    /** A line of the audit is there as a whole or not at all, and the chain of lines holds. */
    @Test
    void auditHasNoHalfLines() throws Exception {
        Tool inside = new Tool(folder);
        compare(Kind.SQLITE, folder, 1, "--runs", small.toString());
        Path run;
        try (var runs = Files.list(small)) {
            run = runs.filter(Files::isDirectory).findFirst().orElseThrow();
        }
        assertThat(inside.run("script", run.toString(), "--out", "first.sql").code())
                .isZero();
        Path filler = filler(0);
        Tool.Result script;
        int tried = 0;
        do {
            script = inside.run("script", run.toString(), "--out", "fix" + tried + ".sql");
        } while (script.code() == 0 && ++tried < 60);
        assertThat(script.all()).contains("No space left").doesNotContain("\tat ");
        assertThat(Files.readString(run.resolve("audit.jsonl"))).endsWith("}\n");
        Files.delete(filler);
        assertThat(inside.run("script", run.toString(), "--verify", "first.sql").code())
                .isZero();
    }

    /** What became of the changes is told, whatever becomes of the record. */
    @Test
    void changesThatCannotBeRecordedAreToldAllTheSame() throws Exception {
        compare(Kind.SQLITE, folder, 1);
        Files.createDirectory(tool.latestRun().resolve("audit.jsonl"));
        Tool.Result applied = tool.run("apply", "--yes");
        assertThat(applied.out()).as(applied.all()).contains("changes made and committed");
        assertThat(applied.err())
                .contains("warning: what was done is not in the run's audit")
                .doesNotContain("\tat ");
        assertThat(rows()).hasSize(ROWS);
    }

    @Test
    void withoutRoomForTheUndoScriptNothingIsDone() throws Exception {
        compare(Kind.SQLITE, folder, 1, "--runs", small.toString());
        String run;
        try (var runs = Files.list(small)) {
            run = runs.filter(Files::isDirectory).findFirst().orElseThrow().toString();
        }
        List<String> before = rows();
        Path filler = filler(16);
        Tool.Result applied = tool.run("apply", run, "--yes");
        assertThat(applied.code()).as(applied.all()).isEqualTo(5);
        assertThat(applied.err())
                .contains("can't write down what undoes the changes, so nothing was done", "No space left")
                .doesNotContain("\tat ");
        assertThat(rows()).isEqualTo(before);
        Files.delete(filler);
        Tool.Result again = tool.run("apply", run, "--yes");
        assertThat(again.code()).as(again.all()).isZero();
        assertThat(rows()).hasSize(ROWS);
    }

    /** H2 is left out: where its file can't grow, its engine goes round in circles and answers nobody any more. */
    @ParameterizedTest
    @EnumSource(names = {"SQLITE", "DUCKDB"})
    void withoutRoomInTheTargetAllIsTakenBack(Kind kind) throws Exception {
        Tool.Result compared = compare(kind, small, 400);
        assertThat(compared.code()).as(compared.all()).isEqualTo(1);
        List<String> before = rows();
        Path filler = filler(1_500);
        Tool.Result applied = tool.run("apply", "--yes");
        assertThat(applied.code()).as(applied.all()).isEqualTo(4);
        assertThat(applied.err()).contains("nothing was done").doesNotContain("\tat ");
        assertThat(rows()).isEqualTo(before);
        Files.delete(filler);
        Tool.process(folder, "", List.of("mount", "-o", "remount,size=64m", small.toString()));
        Tool.Result again = tool.run("apply", "--yes");
        assertThat(again.code()).as(again.all()).isZero();
        assertThat(rows()).hasSize(ROWS);
    }
}
