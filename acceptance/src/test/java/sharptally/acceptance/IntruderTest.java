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
import sharptally.core.sql.Repetition;

/**
 * Somebody else changes rows between the comparison and the changes: in every style, on every engine, with keys that are
 * unique, repeated, NULL and compound, all or nothing is done, and what the intruder did is never lost.
 */
@InTurn(2)
class IntruderTest {
    private static final List<String> STYLES = List.of("row", "batch", "merge", "apply");
    private static final List<String> COLUMNS = List.of("k", "l", "level", "state", "stamp", "raw", "share");

    /** A row that is to be updated stands twice, and another one is gone: as many are found as there should be. */
    private static final String TWICE = "an updated row stands twice and another goes";

    private static final String INSERTED = "an inserted row is there";
    private static final String REFERS = "a row refers to a deleted one";

    /** What an intruder does to the target, told by the row that it concerns. */
    private static final Map<String, String> INTRUDERS = Map.of(
            "a changed column of an updated row",
            "UPDATE gauge SET level = 77 WHERE k = 1",
            "another column of an updated row",
            "UPDATE gauge SET state = 'PAID' WHERE k = 1",
            "a column of an updated row to NULL",
            "UPDATE gauge SET stamp = NULL WHERE k = 1",
            "bytes of an updated row",
            "UPDATE gauge SET raw = NULL WHERE k = 1",
            "a letter's case in an updated row",
            "UPDATE gauge SET state = 'OPEN' WHERE k = 1",
            "an updated row goes",
            "DELETE FROM gauge WHERE k = 1",
            "an updated row's key moves",
            "UPDATE gauge SET k = 101 WHERE k = 1",
            "a deleted row changes",
            "UPDATE gauge SET state = 'PAID' WHERE k = 3",
            "a deleted row goes",
            "DELETE FROM gauge WHERE k = 3",
            INSERTED,
            "INSERT INTO gauge (k, l, level, state) VALUES (2, 2, 5, 'mine')");

    @TempDir
    Path folder;

    /** Every style on every engine, with a key of some kind; with {@code -Dsharptally.all=true} of each kind. */
    static Stream<Arguments> cases() {
        List<String> keys = List.of("unique", "compound", "repeated", "null");
        int turn = new Random().nextInt(keys.size());
        List<Arguments> cases = new ArrayList<>();
        for (Kind kind : List.of(Kind.SQLITE, Kind.H2, Kind.DUCKDB, Kind.POSTGRESQL, Kind.MARIADB, Kind.MYSQL)) {
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
            case MARIADB, MYSQL -> "VARBINARY(9)";
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
        String real = side.kind() == Kind.SQLITE || side.kind().like() == Kind.MARIADB ? "DOUBLE" : "DOUBLE PRECISION";
        side.execute("CREATE TABLE gauge (k INTEGER, l INTEGER, level INTEGER, state VARCHAR(20), stamp TIMESTAMP"
                + (side.kind().like() == Kind.MARIADB ? " NULL" : "") + ", raw " + bytes(side.kind()) + ", share "
                + real
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

    private static List<String> rows(Database database) throws Exception {
        return database.rows("gauge", COLUMNS);
    }

    @ParameterizedTest
    @MethodSource("cases")
    void nothingThatAnIntruderDidIsLost(Kind kind, String key, String style) throws Exception {
        long seed = Seed.next();
        System.out.println("seed " + seed);
        Random random = new Random(seed);
        Database source = new Database(kind, folder, "src");
        Database target = new Database(kind, folder, "tgt");
        for (Database side : List.of(source, target)) {
            make(side, key);
        }
        for (int k : new int[] {1, 2, 4, 5, 6}) {
            source.execute(row(kind, k, 10 * k));
        }
        target.execute(row(kind, 1, 11), row(kind, 3, 30), row(kind, 4, 40), row(kind, 5, 50), row(kind, 6, 66));
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
        List<String> names =
                new ArrayList<>(INTRUDERS.keySet().stream().sorted().toList());
        if (key.equals("repeated") || key.equals("null")) {
            names.add(TWICE);
            names.add(TWICE);
        }
        String name = names.get(random.nextInt(names.size()));
        if (name.equals(TWICE)) {
            target.execute(row(kind, 1, 11), "DELETE FROM gauge WHERE k = 6");
        } else {
            target.execute(INTRUDERS.get(name));
        }
        List<String> before = rows(target);
        Tool.Result stopped = target.change(tool, style);
        String story = "seed " + seed + " " + kind + " " + key + " " + style + ": " + name + "\n" + stopped.all();
        assertThat(stopped.code()).as(story).isNotZero();
        assertThat(rows(target)).as(story).isEqualTo(before);
        if (style.equals("row") || style.equals("apply")) {
            // It says where it stopped, if only by the database's own words of a key that is there already; or that an
            // intruder did what it would do.
            assertThat(stopped.all()).as(story).containsPattern("(?is)gauge.*\\bk[ =),]|primary|" + Repetition.PARTLY);
        }
        if (name.startsWith("another column") && !style.equals("apply")) {
            Tool.Result narrow = target.change(tool, style, "--narrow-guards");
            assertThat(narrow.code()).as(story + narrow.all()).isZero();
        }
        // After another look, what is left is carried out, and the sides are alike.
        assertThat(tool.run(compare.toArray(new String[0])).code()).as(story).isLessThan(2);
        Tool.Result again = target.change(tool, style);
        // A key that stands in several rows is told of as long as it does.
        assertThat(again.code()).as(story + again.all()).isLessThan(key.equals("repeated") ? 2 : 1);
        assertThat(rows(target)).as(story).isEqualTo(rows(source));
    }

    /** Those styles on servers, where others can be at work at the same time; with a key of one kind, or of both. */
    static Stream<Arguments> servers() {
        List<String> keys = List.of("unique", "repeated");
        List<Arguments> cases = new ArrayList<>();
        for (Kind kind : List.of(Kind.POSTGRESQL, Kind.MARIADB, Kind.MYSQL)) {
            for (String style : STYLES) {
                (Boolean.getBoolean("sharptally.all") ? keys : keys.subList(1, 2))
                        .forEach(key -> cases.add(Arguments.of(kind, key, style)));
            }
        }
        return cases.stream();
    }

    /**
     * Somebody has changed rows, and commits while the changes are being made: they stop, or they come before it in a way
     * that loses nothing.
     */
    @ParameterizedTest
    @MethodSource("servers")
    void nothingThatAnIntruderCommitsMeanwhileIsLost(Kind kind, String key, String style) throws Exception {
        Database source = new Database(kind, folder, "src");
        Database target = new Database(kind, folder, "tgt");
        for (Database side : List.of(source, target)) {
            make(side, key);
            side.execute(
                    "CREATE TABLE parent (k INTEGER PRIMARY KEY)",
                    "CREATE TABLE child (k INTEGER PRIMARY KEY, up INTEGER,"
                            + " FOREIGN KEY (up) REFERENCES parent (k) ON DELETE CASCADE)");
        }
        Map<String, String> intruders = new java.util.TreeMap<>(INTRUDERS);
        intruders.put(REFERS, "INSERT INTO child VALUES (1, 7)");
        Tool tool = new Tool(folder);
        List<String> names = new ArrayList<>(intruders.keySet());
        // Those that no lock of a row keeps away, and one of the others.
        java.util.Collections.shuffle(names);
        names.removeAll(List.of(REFERS, INSERTED));
        names = List.of(REFERS, INSERTED, names.get(0));
        for (String name : names) {
            for (Database side : List.of(source, target)) {
                side.execute("DELETE FROM gauge", "DELETE FROM child", "DELETE FROM parent");
            }
            source.execute(row(kind, 1, 10), row(kind, 2, 20), row(kind, 4, 40));
            target.execute(row(kind, 1, 11), row(kind, 3, 30), row(kind, 4, 40), "INSERT INTO parent VALUES (7)");
            String table = intruders.get(name).contains("child") ? "#parent" : "#gauge";
            assertThat(tool.run("compare", source.address() + table, target.address() + table, "--key", "k")
                            .code())
                    .isEqualTo(1);
            if (!style.equals("apply")) {
                assertThat(tool.run("script", "--style", style).code()).isZero();
            }
            java.util.concurrent.CompletableFuture<Tool.Result> changing;
            List<String> before;
            try (java.sql.Connection other = target.connect()) {
                other.setAutoCommit(false);
                other.createStatement().execute(intruders.get(name));
                changing = java.util.concurrent.CompletableFuture.supplyAsync(() -> {
                    try {
                        return style.equals("apply")
                                ? target.change(tool, style)
                                : target.runScript(tool.latestRun().resolve("script.sql"));
                    } catch (Exception e) {
                        throw new IllegalStateException(e);
                    }
                });
                Thread.sleep(style.equals("apply") ? 1_500 : 400);
                other.commit();
                before = everything(target);
            }
            Tool.Result done = changing.get();
            String story = kind + " " + key + " " + style + ": " + name + "\n" + done.all();
            // Whoever waits for the intruder finds its changes and stops.
            assertThat(done.code()).as(story).isNotZero();
            assertThat(everything(target)).as(story).isEqualTo(before);
        }
    }

    private List<String> everything(Database database) throws Exception {
        List<String> all = new ArrayList<>(rows(database));
        all.addAll(database.exactRows("parent", List.of("k")));
        all.addAll(database.exactRows("child", List.of("k", "up")));
        return all;
    }
}
