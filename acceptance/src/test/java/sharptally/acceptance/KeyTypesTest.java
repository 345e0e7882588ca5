package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Random;
import java.util.TreeMap;
import java.util.UUID;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** Keys of every type are cut into ranges and slices, at bounds that chance may choose, such that no row is in two or in none. */
class KeyTypesTest {
    /** Some twelve slices where sums are asked for in a list, some four elsewhere. */
    private static int rows(Database.Kind kind) {
        return kind.like() == Database.Kind.POSTGRESQL ? 12_000 : 4_000;
    }

    private static final String[] LETTERS = {"a", "Z", "é", "ß", "潮", "😀", "'", "\"", "%", "_", " x", "-", "0", "~"};

    @TempDir
    Path folder;

    private final long seed = Seed.next();
    private final Random random = new Random(seed);

    /** The columns of a key as an engine declares them, and one key as literals. */
    private record Key(String columns, Supplier<String> literals) {}

    private String text() {
        StringBuilder text = new StringBuilder("'");
        for (int i = random.nextInt(5); i >= 0; i--) {
            text.append(LETTERS[random.nextInt(LETTERS.length)].replace("'", "''"));
        }
        return text.append(random.nextInt(100_000)).append("'").toString();
    }

    private String day() {
        return String.format(
                Locale.ROOT, "'19%02d-%02d-%02d", random.nextInt(100), 1 + random.nextInt(12), 1 + random.nextInt(28));
    }

    private String time() {
        return day()
                + String.format(
                        Locale.ROOT,
                        " %02d:%02d:%02d.%03d'",
                        random.nextInt(24),
                        random.nextInt(60),
                        random.nextInt(60),
                        random.nextInt(1000));
    }

    private Map<String, Key> keys(Database.Kind kind) {
        boolean postgres = kind.like() == Database.Kind.POSTGRESQL;
        boolean maria = kind.like() == Database.Kind.MARIADB;
        String bytes = postgres ? " COLLATE \"C\"" : maria ? " COLLATE utf8mb4_bin" : "";
        String moment = maria ? "DATETIME(3)" : "TIMESTAMP(3)";
        String plain = postgres || maria || kind == Database.Kind.H2 ? moment : "TIMESTAMP";
        Map<String, Key> keys = new LinkedHashMap<>();
        keys.put("texts", new Key("k1 VARCHAR(40)" + bytes, this::text));
        keys.put("times", new Key("k1 " + plain, this::time));
        keys.put(
                "decimals",
                new Key("k1 DECIMAL(12, 3)", () -> "" + (random.nextInt(2_000_000_000) - 1_000_000_000) / 1000.0));
        keys.put(
                "pairs",
                new Key(
                        "k1 VARCHAR(40)" + bytes + ", k2 BIGINT",
                        () -> "'gauge " + random.nextInt(7) + "', " + random.nextLong()));
        keys.put(
                "threes",
                new Key(
                        "k1 SMALLINT, k2 DATE, k3 VARCHAR(40)" + bytes,
                        () -> random.nextInt(5) - 2 + ", " + day() + "', " + text()));
        if (postgres) {
            keys.put("uuids", new Key("k1 UUID", () -> "'" + new UUID(random.nextLong(), random.nextLong()) + "'"));
            keys.put(
                    "bytes",
                    new Key(
                            "k1 BYTEA, k2 NUMERIC",
                            () -> String.format(
                                    Locale.ROOT,
                                    "'\\x%04x', %d.%02d",
                                    random.nextInt(65_536),
                                    random.nextInt(9) - 4,
                                    random.nextInt(100))));
        }
        return keys;
    }

    private void fill(Database database, String table, String columns, Map<String, String> rows) throws Exception {
        String names = Arrays.stream(columns.split(", k"))
                .map(c -> (c.startsWith("k") ? "" : "k") + c.split(" ")[0])
                .collect(Collectors.joining(", "));
        String notNull = columns.replaceAll("(, k|$)", " NOT NULL$1");
        List<String> statements = new ArrayList<>();
        statements.add("CREATE TABLE " + table + " (" + notNull + ", level INTEGER, PRIMARY KEY (" + names + "))");
        List<String> all = rows.entrySet().stream()
                .map(r -> "(" + r.getKey() + ", " + r.getValue() + ")")
                .toList();
        for (int i = 0; i < all.size(); i += 500) {
            statements.add("INSERT INTO " + table + " VALUES "
                    + String.join(", ", all.subList(i, Math.min(all.size(), i + 500))));
        }
        database.execute(statements.toArray(String[]::new));
    }

    /** All findings, and how many rows were counted: one that is in two slices of both sides differs in neither. */
    private static List<String> findings(Tool tool, String table, String... command) throws Exception {
        Tool.Result result = tool.run(command);
        assertThat(result.code()).as(table + result.all()).isEqualTo(1);
        JsonNode match = new ObjectMapper()
                .readTree(tool.latestRun().resolve("run.json").toFile())
                .get("matches")
                .get(0);
        List<String> found = new ArrayList<>(tool.findings());
        found.add(match.get("source-rows") + " " + match.get("target-rows") + " " + match.get("same"));
        return found;
    }

    @ParameterizedTest
    @EnumSource
    void everyRowIsInOneSlice(Database.Kind kind) throws Exception {
        System.out.println("seed " + seed + " " + kind);
        Database source = new Database(kind, folder, "one");
        Database target = new Database(kind, folder, "two");
        Tool tool = new Tool(folder);
        for (Map.Entry<String, Key> key : keys(kind).entrySet()) {
            String table = "by_" + key.getKey();
            Map<String, String> rows = new TreeMap<>();
            while (rows.size() < rows(kind)) {
                rows.put(key.getValue().literals().get(), "" + random.nextInt(1_000));
            }
            fill(source, table, key.getValue().columns(), rows);
            Map<String, String> moved = new TreeMap<>(rows);
            List<String> keys = List.copyOf(rows.keySet());
            // So few that most slices are the same, of which no row is read.
            moved.remove(keys.get(random.nextInt(keys.size() / 2)));
            moved.compute(keys.get(keys.size() / 2 + random.nextInt(keys.size() / 2)), (k, level) -> level + "1");
            while (moved.size() < rows.size()) {
                moved.putIfAbsent(key.getValue().literals().get(), "7");
            }
            fill(target, table, key.getValue().columns(), moved);
            String[] tables = {source.address() + "#" + table, target.address() + "#" + table};
            List<String> plain = findings(tool, table, "compare", tables[0], tables[1], "--method", "stream");
            assertThat(plain).as(table).hasSize(4);
            for (String way : List.of(
                    "stream --range-rows 1500", "auto --range-rows 1500", "checksum", "checksum --range-rows 2500")) {
                if (way.startsWith("checksum") && !source.isOnServer()) {
                    continue;
                }
                List<String> words =
                        new ArrayList<>(List.of("compare", tables[0], tables[1], "--workers", "2", "--method"));
                words.addAll(List.of(way.split(" ")));
                assertThat(findings(tool, table, words.toArray(String[]::new)))
                        .as("seed " + seed + " " + kind + " " + table + " " + way)
                        .isEqualTo(plain);
            }
        }
    }
}
