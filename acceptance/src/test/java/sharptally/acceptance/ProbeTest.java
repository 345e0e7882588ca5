package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** A probe finds all engines exact, and leaves nothing behind. */
@InTurn(2)
class ProbeTest {
    @TempDir
    Path folder;

    @ParameterizedTest
    @EnumSource(names = "POSTGRESQL_13", mode = EnumSource.Mode.EXCLUDE)
    void everyEngineIsExact(Database.Kind kind) throws Exception {
        Database database = new Database(kind, folder, "one");
        database.execute("CREATE TABLE gauge (id INTEGER PRIMARY KEY)", "INSERT INTO gauge VALUES (7)");
        String schema = switch (kind.like()) {
            case POSTGRESQL -> "scratch";
            case MARIADB -> database.address().replaceFirst(".*/", "");
            case H2 -> "PUBLIC";
            default -> "main";
        };
        if (kind.like() == Database.Kind.POSTGRESQL) {
            database.execute("CREATE SCHEMA scratch");
        }
        Tool tool = new Tool(folder);
        Tool.Result before = tool.run("survey", database.address());
        Tool.Result probed =
                tool.run("survey", "--probe", database.address(), "--scratch-schema", schema, "--out", "probe.txt");
        assertThat(probed.code()).as(probed.all()).isZero();
        assertThat(probed.out()).doesNotContain("WRONG").contains("exact: ").contains("kept   what is only tried");
        // Each type in turn, told apart by reading and changed: what is not there is only what this version lacks.
        List<String> types = probed.out()
                .lines()
                .dropWhile(line -> !line.startsWith("type "))
                .skip(1)
                .takeWhile(line -> !line.isEmpty())
                .toList();
        assertThat(types).hasSizeGreaterThan(9);
        assertThat(types.stream().filter(line -> line.contains("no such type here")))
                .hasSizeLessThan(kind == Database.Kind.MYSQL ? 4 : 1);
        assertThat(types.stream().filter(line -> !line.contains("exact") && !line.contains("no such type here")))
                .isEmpty();
        assertThat(Files.readString(folder.resolve("probe.txt"))).isEqualTo(probed.out());
        assertThat(tool.run("survey", database.address()).out()).isEqualTo(before.out());
        assertThat(database.values("SELECT id FROM gauge")).containsExactly("7");
    }
}
