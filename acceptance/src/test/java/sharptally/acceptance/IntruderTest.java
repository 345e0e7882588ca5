package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.stream.Stream;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;
import sharptally.acceptance.Database.Kind;

/**
 * Somebody else changes rows between the comparison and the changes: in every style, on every engine, with keys that are
 * unique, repeated, NULL and compound, all or nothing is done, and what the intruder did is never lost.
 */
class IntruderTest {
    private static final List<String> STYLES = List.of("row", "batch", "merge", "apply");
    private static final List<String> COLUMNS = List.of("k", "l", "level", "state", "stamp", "raw", "share");

    /** What an intruder does to the target, told by the row that it concerns. */
    private static final Map<String, String> INTRUDERS = Map.of(
            "a changed column of an updated row", "UPDATE gauge SET level = 77 WHERE k = 1",
            "another column of an updated row", "UPDATE gauge SET state = 'PAID' WHERE k = 1",
            "a column of an updated row to NULL", "UPDATE gauge SET stamp = NULL WHERE k = 1",
            "bytes of an updated row", "UPDATE gauge SET raw = NULL WHERE k = 1",
            "a letter's case in an updated row", "UPDATE gauge SET state = 'OPEN' WHERE k = 1",
            "an updated row goes", "DELETE FROM gauge WHERE k = 1",
            "an updated row's key moves", "UPDATE gauge SET k = 101 WHERE k = 1",
            "a deleted row changes", "UPDATE gauge SET state = 'PAID' WHERE k = 3",
            "a deleted row goes", "DELETE FROM gauge WHERE k = 3",
            "an inserted row is there", "INSERT INTO gauge (k, l, level, state) VALUES (2, 2, 5, 'mine')");

    @TempDir
    Path folder;

    /** Every style on every engine, with a key of some kind; with {@code -Dsharptally.all=true} of each kind. */
    static Stream<Arguments> cases() {
        List<String> keys = List.of("unique", "compound", "repeated", "null");
        int turn = new Random().nextInt(keys.size());
        List<Arguments> cases = new ArrayList<>();
        for (Kind kind : List.of(Kind.SQLITE, Kind.H2, Kind.DUCKDB, Kind.POSTGRESQL, Kind.MARIADB)) {
            for (String style : STYLES) {
                int next = turn++ + kind.ordinal();
                (Boolean.getBoolean("sharptally.all") ? keys : List.of(keys.get(next % keys.size())))
                        .forEach(key -> cases.add(Arguments.of(kind, key, style)));
            }
        }
        return cases.stream();
    }

    private static String bytes(Kind kind) {
        return switch (kind) {
            case POSTGRESQL, POSTGRESQL_13 -> "BYTEA";
            case MARIADB -> "VARBINARY(9)";
            case H2 -> "VARBINARY(9)";
            default -> "BLOB";
        };
    }

    private static void make(Database side, String key) throws Exception {
        String constraint = switch (key) {
            case "unique" -> ", PRIMARY KEY (k)";
            case "compound" -> ", PRIMARY KEY (k, l)";
            default -> "";
        };
        String real = side.kind() == Kind.SQLITE || side.kind() == Kind.MARIADB ? "DOUBLE" : "DOUBLE PRECISION";
        side.execute("CREATE TABLE gauge (k INTEGER, l INTEGER, level INTEGER, state VARCHAR(20), stamp TIMESTAMP"
                + (side.kind() == Kind.MARIADB ? " NULL" : "") + ", raw " + bytes(side.kind()) + ", share " + real
                + constraint + ")");
    }

    private static String row(Kind kind, int k, int level) {
        String raw = switch (kind) {
            case POSTGRESQL, POSTGRESQL_13 -> "'\\x00ff'";
            case DUCKDB -> "'\\x00\\xff'::BLOB";
            default -> "x'00ff'";
        };
        return "INSERT INTO gauge VALUES (" + k + ", " + k + ", " + level + ", 'open', '2024-01-02 03:04:05', " + raw
                + ", 0.1)";
    }

    private List<String> rows(Database database) throws Exception {
        return database.kind() == Kind.H2
                ? database.exactRows(
                        "GAUGE",
                        COLUMNS.stream()
                                .map(c -> c.toUpperCase(java.util.Locale.ROOT))
                                .toList())
                : database.exactRows("gauge", COLUMNS);
    }

    private static Tool.Result change(Tool tool, Database target, String style, String... more) throws Exception {
        List<String> command = new ArrayList<>(
                style.equals("apply")
                        ? List.of("apply", tool.latestRun().toString(), "--yes")
                        : List.of("script", "--style", style));
        command.addAll(List.of(more));
        Tool.Result done = tool.run(command.toArray(new String[0]));
        return style.equals("apply") || done.code() != 0
                ? done
                : target.runScript(tool.latestRun().resolve("script.sql"));
    }

    @ParameterizedTest
    @MethodSource("cases")
    void nothingThatAnIntruderDidIsLost(Kind kind, String key, String style) throws Exception {
        long seed = Long.getLong("sharptally.seed", System.nanoTime());
        System.out.println("seed " + seed);
        Random random = new Random(seed);
        Database source = new Database(kind, folder, "src");
        Database target = new Database(kind, folder, "tgt");
        for (Database side : List.of(source, target)) {
            make(side, key);
        }
        for (int k : new int[] {1, 2, 4, 5}) {
            source.execute(row(kind, k, 10 * k));
        }
        target.execute(row(kind, 1, 11), row(kind, 3, 30), row(kind, 4, 40), row(kind, 5, 50));
        if (key.equals("repeated")) {
            source.execute(row(kind, 4, 41));
            target.execute(row(kind, 4, 41), row(kind, 4, 42));
        } else if (key.equals("null")) {
            for (Database side : List.of(source, target)) {
                side.execute(
                        "INSERT INTO gauge (k, l, level, state) VALUES (NULL, 1, 1, 'x')",
                        "INSERT INTO gauge (k, l, level, state) VALUES (NULL, 1, 2, 'x')");
            }
        }
        Tool tool = new Tool(folder);
        List<String> compare =
                List.of("compare", source.address(), target.address(), "--key", key.equals("compound") ? "k,l" : "k");
        assertThat(tool.run(compare.toArray(new String[0])).code()).isEqualTo(1);
        List<String> names = INTRUDERS.keySet().stream().sorted().toList();
        String name = names.get(random.nextInt(names.size()));
        target.execute(INTRUDERS.get(name));
        List<String> before = rows(target);
        Tool.Result stopped = change(tool, target, style);
        String story = "seed " + seed + " " + kind + " " + key + " " + style + ": " + name + "\n" + stopped.all();
        assertThat(stopped.code()).as(story).isNotZero();
        assertThat(rows(target)).as(story).isEqualTo(before);
        if (name.startsWith("another column") && !style.equals("apply")) {
            Tool.Result narrow = change(tool, target, style, "--narrow-guards");
            assertThat(narrow.code()).as(story + narrow.all()).isZero();
        }
        // After another look, what is left is carried out, and the sides are alike.
        assertThat(tool.run(compare.toArray(new String[0])).code()).as(story).isLessThan(2);
        Tool.Result again = change(tool, target, style);
        // A key that stands in several rows is told of as long as it does.
        assertThat(again.code()).as(story + again.all()).isLessThan(key.equals("repeated") ? 2 : 1);
        assertThat(rows(target)).as(story).isEqualTo(rows(source));
    }
}
