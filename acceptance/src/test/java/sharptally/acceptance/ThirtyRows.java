package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Pattern;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.io.TempDir;
import sharptally.acceptance.Database.Kind;

/** Two sides of which ten rows are missing, ten extra and ten changed, compared. */
abstract class ThirtyRows {
    static final List<String> COLUMNS = List.of("id", "level", "remark");

    @TempDir
    Path folder;

    Tool tool;
    Database source;
    Database target;

    @BeforeEach
    void start() {
        tool = new Tool(folder);
    }

    /** In the source 1 to 30; in the target 11 to 40, of which those up to 20 have another level, 15 another remark, and 18 that alone. */
    void fill(Kind kind) throws Exception {
        source = new Database(kind, folder, "src");
        target = new Database(kind, folder, "tgt");
        for (Database database : List.of(source, target)) {
            List<String> rows = new ArrayList<>();
            for (int id = database == source ? 1 : 11; id <= (database == source ? 30 : 40); id++) {
                boolean changed = database == target && id <= 20 && id != 18;
                boolean bare = id == (database == target ? 15 : 18);
                rows.add("(" + id + ", " + (changed ? id + 100 : id) + ", " + (bare ? "NULL" : "'gauge " + id + "'")
                        + ")");
            }
            database.execute(
                    quoted(
                            database,
                            "CREATE TABLE [t] ([id] INTEGER PRIMARY KEY, [level] INTEGER NOT NULL, [remark] VARCHAR(20))"),
                    quoted(database, "INSERT INTO [t] VALUES ") + String.join(", ", rows));
        }
        assertThat(tool.run("compare", source.address(), target.address()).code())
                .isEqualTo(1);
    }

    /** With names in brackets as the engine quotes them. */
    static String quoted(Database database, String sql) {
        return Pattern.compile("\\[(\\w+)\\]").matcher(sql).replaceAll(m -> database.quote(m.group(1)));
    }

    List<String> rows(Database of) throws Exception {
        return of.exactRows("t", COLUMNS);
    }

    Tool.Result ok(String... arguments) {
        Tool.Result result = tool.run(arguments);
        assertThat(result.code()).as(String.join(" ", arguments) + result.all()).isLessThan(2);
        return result;
    }
}
