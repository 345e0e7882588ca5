package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.EnabledIfSystemProperty;
import org.junit.jupiter.api.io.TempDir;

/** A real Trino server beside itself and others. Its tables are in memory, so that they can be filled but not changed. */
@EnabledIfSystemProperty(named = "sharptally.all", matches = "true")
@InTurn(2)
class TrinoTest {
    private static final int ROUNDS = 2;

    /** Not each table can be compared by each method; so many are tried until each was used. */
    private static final int MAX_ROUNDS = 12;

    private static final Set<String> METHODS = Set.of("stream", "joined");

    @TempDir
    Path folder;

    private static TrinoTables tables(String catalogue) {
        return new TrinoTables(Servers.trino(), catalogue, "default");
    }

    private static String address(String catalogue) {
        return tables(catalogue).address();
    }

    /** The edits, and nothing else, by every method that can be used, beside itself and beside other engines. */
    @Test
    void theEditsAreFoundByEveryMethod() throws Exception {
        long seed = Seed.next();
        Set<String> used = new TreeSet<>();
        for (int round = 0; round < ROUNDS || !used.containsAll(METHODS) && round < MAX_ROUNDS; round++) {
            Random random = new Random(seed + round);
            RandomTable table = new RandomTable(random);
            while (table.key.isEmpty() || !TrinoTables.fits(table)) {
                table = new RandomTable(random);
            }
            String story = "seed " + (seed + round) + " " + table;
            System.out.println(story);
            Path here = Files.createDirectory(folder.resolve("round" + round));
            String name = "t" + Long.toHexString(seed + round);
            Database.Kind kind =
                    RandomTable.pick(random, Database.Kind.POSTGRESQL, Database.Kind.MARIADB, Database.Kind.SQLITE);
            Database source = new Database(kind, here, "source");
            Database target = new Database(kind, here, "target");
            table.create(source, table.source);
            table.create(target, table.target);
            tables("one").create(name, table, table.source);
            tables("two").create(name, table, table.target);
            Tool tool = new Tool(here);
            List<List<String>> pairs = List.of(
                    List.of(address("one") + "#" + name, address("two") + "#" + name),
                    List.of(address("one") + "#" + name, target.address() + "#t"),
                    List.of(source.address() + "#t", address("two") + "#" + name));
            for (List<String> pair : pairs) {
                for (String method : List.of("auto", "stream", "checksum", "joined")) {
                    List<String> command = new ArrayList<>(List.of("compare", pair.get(0), pair.get(1)));
                    for (int c : table.key) {
                        command.addAll(List.of("--key", table.columns.get(c)));
                    }
                    command.addAll(List.of("--method", method, "--range-rows", "60"));
                    Tool.Result result = tool.run(command.toArray(String[]::new));
                    if (result.all().contains("can't compare by method")) {
                        continue;
                    }
                    assertThat(result.code()).as(story + command + result.all()).isLessThan(2);
                    try (Stream<Path> files = Files.list(tool.latestRun().resolve("findings"))) {
                        String found = Files.readString(files.findFirst().orElseThrow());
                        assertThat(FilesTest.findings(found, table))
                                .as(story + command + result.all())
                                .isEqualTo(table.expected);
                    }
                    used.add(method);
                }
            }
        }
        assertThat(used).containsAll(METHODS);
    }

    /** Values that no other engine has: twelve digits of a second, nested ones, zones, and the ends of what types hold. */
    @Test
    void valuesOfItsOwnAreToldApart() throws Exception {
        List<List<String>> types = List.of(
                List.of(
                        "timestamp(12)",
                        "TIMESTAMP '2026-03-29 02:30:00.123456789012'",
                        "TIMESTAMP '2026-03-29 02:30:00.123456789013'"),
                List.of(
                        "timestamp(9)",
                        "TIMESTAMP '2026-03-29 02:30:00.123456789'",
                        "TIMESTAMP '2026-03-29 02:30:00.123456788'"),
                List.of("time(12)", "TIME '23:59:59.999999999999'", "TIME '23:59:59.999999999998'"),
                List.of(
                        "timestamp(6) with time zone",
                        "TIMESTAMP '2026-10-25 02:30:00.000001 Europe/Berlin'",
                        "TIMESTAMP '2026-10-25 02:30:00.000001 UTC'"),
                List.of("real", "REAL '16777216'", "REAL '16777214'"),
                List.of("double", "DOUBLE '4.9e-324'", "DOUBLE '9.9e-324'"),
                List.of(
                        "decimal(38, 10)",
                        "DECIMAL '1234567890123456789012345678.0000000001'",
                        "DECIMAL '1234567890123456789012345678.0000000002'"),
                List.of("char(5)", "'ab'", "'aB'"),
                List.of("json", "JSON '{\"a\": [1, 2]}'", "JSON '{\"a\": [2, 1]}'"),
                List.of("row(x integer, y varchar)", "ROW(1, 'x')", "ROW(1, 'X')"),
                List.of("array(decimal(20, 3))", "ARRAY[1.5, NULL]", "ARRAY[1.5, NULL, NULL]"),
                List.of(
                        "map(varchar, bigint)",
                        "MAP(ARRAY['a', 'b'], ARRAY[1, 2])",
                        "MAP(ARRAY['a', 'b'], ARRAY[1, 3])"),
                List.of(
                        "uuid",
                        "UUID 'ffffffff-ffff-ffff-ffff-ffffffffffff'",
                        "UUID 'ffffffff-ffff-ffff-ffff-fffffffffffe'"),
                List.of("interval day to second", "INTERVAL '1' DAY", "INTERVAL '25' HOUR"),
                List.of("ipaddress", "IPADDRESS '10.0.0.1'", "IPADDRESS '10.0.0.2'"),
                List.of("varbinary", "X'00ff'", "X'00fe'"));
        String columns = IntStream.range(0, types.size())
                .mapToObj(i -> ", v" + i + " " + types.get(i).get(0))
                .collect(Collectors.joining());
        for (String side : List.of("one", "two")) {
            String rows = Stream.of(1, side.equals("one") ? 1 : 2)
                    .map(place -> types.stream()
                            .map(type -> "CAST(" + type.get(place) + " AS " + type.get(0) + ")")
                            .collect(Collectors.joining(", ")))
                    .collect(Collectors.joining("), (2, ", "(1, ", ")"));
            tables(side)
                    .execute(
                            "CREATE TABLE own (id bigint" + columns + ")",
                            "INSERT INTO own VALUES " + rows + ", (3" + ", NULL".repeat(types.size()) + ")");
        }
        Tool tool = new Tool(folder);
        for (String method : List.of("stream", "joined", "auto")) {
            Tool.Result result = tool.run(
                    "compare", address("one") + "#own", address("two") + "#own", "--key", "id", "--method", method);
            assertThat(result.code()).as(result.all()).isEqualTo(1);
            assertThat(result.out())
                    .as(method)
                    .contains("1 changed, 0 missing, 0 extra")
                    .doesNotContain("NOT COMPARED");
            try (Stream<Path> files = Files.list(tool.latestRun().resolve("findings"))) {
                String found = Files.readString(files.findFirst().orElseThrow());
                assertThat(IntStream.range(0, types.size()).filter(i -> !found.contains("\"v" + i + "\":{")))
                        .as(method + found)
                        .isEmpty();
            }
            Tool.Result itself = tool.run(
                    "compare",
                    address("two") + "#own",
                    address("two") + "#two.default.own",
                    "--key",
                    "id",
                    "--method",
                    method);
            assertThat(itself.code()).as(itself.all()).isZero();
        }
        // A reading connection may not write.
        Tool.Result written = tool.run("apply", tool.latestRun().toString(), "--yes");
        assertThat(written.code()).as(written.all()).isGreaterThan(1);
    }
}
