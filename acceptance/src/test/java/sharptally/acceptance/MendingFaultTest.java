package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.Statement;
import java.util.List;
import java.util.concurrent.CompletableFuture;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import sharptally.acceptance.Database.Kind;

/** What becomes of changes when the server, others at work on it, or the user get in the way. */
class MendingFaultTest {
    @TempDir
    Path folder;

    private Tool tool;
    private Database source;
    private Database target;

    @BeforeEach
    void start() throws Exception {
        tool = new Tool(folder);
        fill(Kind.POSTGRESQL);
    }

    private void fill(Kind kind) throws Exception {
        source = new Database(kind, folder, "src");
        target = new Database(kind, folder, "tgt");
        for (Database database : List.of(source, target)) {
            database.execute("CREATE TABLE t (id INTEGER PRIMARY KEY, level INTEGER)");
            for (int id = 1; id <= 40; id++) {
                database.execute(
                        "INSERT INTO t VALUES (" + id + ", " + (database == target && id % 2 == 0 ? -id : id) + ")");
            }
        }
        assertThat(tool.run("compare", source.address(), target.address()).code())
                .isEqualTo(1);
    }

    private List<String> levels() throws Exception {
        return target.values("SELECT level FROM t ORDER BY id");
    }

    private void refused(String... words) throws Exception {
        List<String> before = levels();
        Tool.Result result = tool.run("apply", "--yes", "--lock-wait", "1s");
        assertThat(result.code()).as(result.all()).isEqualTo(4);
        assertThat(result.err()).contains(words).contains("nothing was done").doesNotContain("\tat ");
        assertThat(levels()).isEqualTo(before);
    }

    @Test
    void whoMayNotOrCanNotWriteIsTold() throws Exception {
        try (Connection other = target.connect();
                Statement statement = other.createStatement()) {
            other.setAutoCommit(false);
            statement.execute("UPDATE t SET level = level WHERE id = 30");
            refused("lock timeout");
            other.rollback();
        }
        String database = target.values("SELECT current_database()").get(0);
        target.execute("ALTER DATABASE " + database + " SET default_transaction_read_only = on");
        refused("read-only transaction");
        target.execute(
                "SET default_transaction_read_only = off",
                "ALTER DATABASE " + database + " SET default_transaction_read_only = off",
                "CREATE FUNCTION no() RETURNS trigger LANGUAGE plpgsql AS 'BEGIN RAISE EXCEPTION ''not here''; END'",
                "CREATE TRIGGER no BEFORE UPDATE ON t FOR EACH ROW WHEN (NEW.id = 24) EXECUTE FUNCTION no()");
        refused("not here", "[id 24]");
        Tool.Result wrong = tool.run("apply", "--yes", "--to", "sqlite:other.db");
        assertThat(wrong.code()).as(wrong.all()).isEqualTo(2);
        assertThat(folder.resolve("other.db")).doesNotExist();
    }

    @Test
    void aDeadlockIsTriedAgain() throws Exception {
        try (Connection other = target.connect();
                Statement statement = other.createStatement()) {
            other.setAutoCommit(false);
            statement.execute("UPDATE t SET level = level WHERE id = 30");
            var applied = CompletableFuture.supplyAsync(() -> tool.run("apply", "--yes", "--lock-wait", "60s"));
            String waiting = "SELECT count(*) FROM pg_stat_activity WHERE wait_event_type = 'Lock'"
                    + " AND datname = current_database()";
            while (!applied.isDone() && target.values(waiting).get(0).equals("0")) {
                Thread.sleep(50);
            }
            statement.execute("UPDATE t SET level = level WHERE id = 2");
            other.rollback();
            assertThat(applied.join().code()).as(applied.join().all()).isZero();
        }
        assertThat(levels()).isEqualTo(source.values("SELECT level FROM t ORDER BY id"));
    }

    @Test
    void triggersAreKeptFromRunningWhereTheEngineCan() throws Exception {
        target.execute(
                "CREATE FUNCTION more() RETURNS trigger LANGUAGE plpgsql AS"
                        + " 'BEGIN NEW.level := NEW.level + 1000; RETURN NEW; END'",
                "CREATE TRIGGER more BEFORE UPDATE ON t FOR EACH ROW EXECUTE FUNCTION more()");
        assertThat(tool.run("compare", source.address(), target.address()).code())
                .isEqualTo(1);
        assertThat(tool.run("script", "--no-triggers").code()).isZero();
        Path script = tool.latestRun().resolve("script.sql");
        assertThat(target.runScript(script).code()).isZero();
        assertThat(levels()).isEqualTo(source.values("SELECT level FROM t ORDER BY id"));
        assertThat(target.runScript(script.resolveSibling("undo.sql")).code()).isZero();
        // Broken off on the way, such changes would leave the triggers off.
        assertThat(tool.run("apply", "--yes", "--no-triggers", "--commit-every", "5")
                        .code())
                .isEqualTo(2);
        assertThat(tool.run("apply", "--yes", "--no-triggers").code()).isZero();
        assertThat(target.values("SELECT tgenabled FROM pg_trigger WHERE tgname = 'more'"))
                .containsExactly("O");
    }

    @Test
    void aScriptThatWasChangedIsKnown() throws Exception {
        assertThat(tool.run("script", "--out", "mend.sql").code()).isZero();
        Path script = folder.resolve("mend.sql");
        for (String file : List.of("mend.sql", "mend.undo.sql")) {
            Tool.Result same = tool.run("script", "--verify", file);
            assertThat(same.code()).as(same.all()).isZero();
            assertThat(same.out()).contains("as it was written by");
        }
        String whole = Files.readString(script);
        Files.writeString(script, whole.substring(0, whole.lastIndexOf("COMMIT") + 3));
        Tool.Result cut = tool.run("script", "--verify", "mend.sql");
        assertThat(cut.code()).as(cut.all()).isEqualTo(4);
        assertThat(cut.err()).contains("edited or cut short");
        List<String> before = levels();
        target.runScript(script);
        assertThat(levels()).isEqualTo(before);
    }

    @Test
    void whatAnEngineCanNotDoIsRefusedBeforehand() throws Exception {
        Files.createDirectory(folder.resolve("lite"));
        folder = folder.resolve("lite");
        tool = new Tool(folder);
        fill(Kind.SQLITE);
        target.execute("CREATE TRIGGER more AFTER UPDATE ON t BEGIN SELECT 1; END");
        assertThat(tool.run("compare", source.address(), target.address()).code())
                .isEqualTo(1);
        for (String command : List.of("script", "apply")) {
            Tool.Result result = tool.run(command, "--no-triggers");
            assertThat(result.code()).as(result.all()).isEqualTo(4);
            assertThat(result.err()).contains("triggers of this table can't be kept from running");
        }
    }
}
