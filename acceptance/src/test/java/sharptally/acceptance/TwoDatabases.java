package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.ObjectMapper;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.io.TempDir;

/** A folder with two databases of one small table that differ, and what must be so of every refusal. */
abstract class TwoDatabases {
    static final ObjectMapper JSON = new ObjectMapper();
    static final String SECRET = "hunter2-Zx81";

    @TempDir
    Path folder;

    Tool tool;
    Database one;
    Database two;

    @BeforeEach
    void makeTwoDatabases() throws Exception {
        tool = new Tool(folder);
        one = new Database(Database.Kind.SQLITE, folder, "one");
        two = new Database(Database.Kind.SQLITE, folder, "two");
        for (Database side : List.of(one, two)) {
            side.execute(
                    "CREATE TABLE gauge (id INTEGER PRIMARY KEY, level REAL, note TEXT)",
                    "INSERT INTO gauge VALUES (1, 1.5, 'a'), (2, 0.1, 'b'), (3, 7, 'c')");
        }
        two.execute("UPDATE gauge SET level = 2 WHERE id = 2", "DELETE FROM gauge WHERE id = 3");
    }

    /** One line, no trace of the program's inside, and no secret. */
    static void isRefused(Tool.Result result, Integer... codes) {
        assertThat(result.code()).as(result.all()).isIn((Object[]) codes);
        assertThat(result.err().strip().lines()).as(result.all()).hasSize(1);
        assertThat(result.all()).doesNotContain(SECRET, "Exception", "\tat ", "sharptally.");
    }
}
