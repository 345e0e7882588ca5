package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import sharptally.acceptance.Database.Kind;
import sharptally.core.sql.Repetition;

/** Scripts that are run again: by somebody else, in the same session, after a part of them was done. */
class RerunTest extends ThirtyRows {
    /** What a script has done is not done again, nor is it a failure; what it has done in part is. */
    @ParameterizedTest
    @EnumSource(value = Kind.class, names = "POSTGRESQL_13", mode = EnumSource.Mode.EXCLUDE)
    void whatIsDoneAlreadyIsNotDoneAgain(Kind kind) throws Exception {
        fill(kind);
        List<String> before = rows(target);
        ok("script");
        Path run = tool.latestRun();
        assertThat(target.runScript(run.resolve("script.sql")).code()).isZero();
        Tool.Result again = tool.run("apply", run.toString(), "--yes");
        assertThat(again.code()).as(again.all()).isZero();
        assertThat(again.out()).contains("already done", "no longer different: all of");
        assertThat(rows(target)).isEqualTo(rows(source));
        assertThat(target.runScript(run.resolve("undo.sql")).code()).isZero();
        assertThat(rows(target)).isEqualTo(before);
        ok(
                "script",
                run.toString(),
                "--kind",
                "changed",
                "--out",
                folder.resolve("some.sql").toString());
        assertThat(target.runScript(folder.resolve("some.sql")).code()).isZero();
        List<String> partly = rows(target);
        for (String style : List.of("row", "batch", "merge")) {
            ok("script", run.toString(), "--style", style);
            for (String file : List.of("script.sql", "undo.sql")) {
                Tool.Result stopped = target.runScript(run.resolve(file));
                assertThat(stopped.code()).as(style + stopped.all()).isNotZero();
                assertThat(stopped.all()).as(style).contains(Repetition.PARTLY);
                assertThat(stopped.all()).as(style).containsPattern(file.startsWith("undo") ? "\\b20\\b" : "\\b10\\b");
                assertThat(rows(target)).isEqualTo(partly);
            }
        }
        Tool.Result part = tool.run("apply", run.toString(), "--yes");
        assertThat(part.code()).as(part.all()).isEqualTo(4);
        assertThat(part.all()).contains("still differ", "so nothing was done");
        assertThat(rows(target)).isEqualTo(partly);
    }

    /** No key keeps a second run from inserting them once more, or from deleting another one like them. */
    @ParameterizedTest
    @EnumSource(value = Kind.class, names = "POSTGRESQL_13", mode = EnumSource.Mode.EXCLUDE)
    void rowsWithoutAKeyAreNotChangedTwice(Kind kind) throws Exception {
        source = new Database(kind, folder, "src");
        target = new Database(kind, folder, "tgt");
        for (Database database : List.of(source, target)) {
            database.execute(quoted(database, "CREATE TABLE [log] ([words] VARCHAR(20), [times] INTEGER)"));
        }
        source.execute(quoted(source, "INSERT INTO [log] VALUES ('calm', 1), ('calm', 1), ('calm', 1), (NULL, 2)"));
        target.execute(quoted(target, "INSERT INTO [log] VALUES ('calm', 1), ('gale', 3), ('gale', 3), ('Calm', 1)"));
        source.execute(quoted(source, "INSERT INTO [log] VALUES ('gale', 3)"));
        List<String> columns = List.of("words", "times");
        List<String> before = target.exactRows("log", columns);
        ok("compare", source.address(), target.address());
        Path run = tool.latestRun();
        for (String style : List.of("row", "batch", "merge")) {
            ok("script", "--style", style);
            for (String file : List.of("script.sql", "script.sql", "undo.sql", "undo.sql")) {
                Tool.Result ran = target.runScript(run.resolve(file));
                assertThat(ran.code()).as(style + ran.all()).isZero();
                assertThat(target.exactRows("log", columns))
                        .as(style + file)
                        .isEqualTo(file.startsWith("undo") ? before : source.exactRows("log", columns));
            }
        }
    }

    /** Whoever has a client open runs one file after the other in it; nothing that a script leaves there is in its way. */
    @ParameterizedTest
    @EnumSource(value = Kind.class, names = "POSTGRESQL_13", mode = EnumSource.Mode.EXCLUDE)
    void scriptsFollowEachOtherInOneSession(Kind kind) throws Exception {
        fill(kind);
        List<String> before = rows(target);
        for (String style : List.of("row", "batch", "merge")) {
            if (kind == Kind.H2 && !style.equals("row")) {
                // Its tool has a session for each file, and to drop a staged table would commit.
                continue;
            }
            ok("script", "--style", style);
            String script = Files.readString(tool.latestRun().resolve("script.sql"));
            String undo = Files.readString(tool.latestRun().resolve("undo.sql"));
            Path all = folder.resolve("all.sql");
            Files.writeString(all, String.join("\n", script, script, undo, undo, script));
            Tool.Result ran = target.runScript(all);
            assertThat(ran.code()).as(style + ran.all()).isZero();
            if (kind != Kind.H2) {
                assertThat(ran.all().split("already done", -1))
                        .as(style + ran.all())
                        .hasSize(3);
            }
            assertThat(rows(target)).as(style).isEqualTo(rows(source));
            assertThat(target.runScript(tool.latestRun().resolve("undo.sql")).code())
                    .isZero();
            assertThat(rows(target)).as(style).isEqualTo(before);
        }
    }
}
