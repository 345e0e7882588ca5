package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import sharptally.acceptance.Database.Kind;

/** Databases whose tables together are one are compared as that one would be, and put right each by itself. */
class UnionTest {
    private static final List<String> REGIONS = List.of("east", "north", "south");

    @TempDir
    Path folder;

    /** Rows spread over parts, by chance or by their region, each part in a database of its own. */
    private record Parts(List<Database> databases, List<ModelRows> rows) {
        static Parts of(ModelRows all, List<Kind> kinds, Path folder, String name, Random random, boolean byRegion)
                throws Exception {
            Map<Integer, Integer> home = new TreeMap<>();
            all.byId()
                    .forEach((id, row) ->
                            home.put(id, byRegion ? REGIONS.indexOf(row.get(0)) : random.nextInt(kinds.size())));
            List<Database> databases = new ArrayList<>();
            List<ModelRows> rows = new ArrayList<>();
            for (int i = 0; i < kinds.size(); i++) {
                int part = i;
                databases.add(new Database(kinds.get(i), folder, name + i));
                rows.add(all.only(row -> home.get(row.getKey()) == part));
                rows.get(i).fill(databases.get(i), "reading", columns(byRegion));
            }
            return new Parts(databases, rows);
        }

        private static List<String> columns(boolean byRegion) {
            return byRegion ? List.of("millis", "remark") : ModelRows.COLUMNS;
        }

        String address(boolean byRegion) {
            return "union:" + (byRegion ? "by=region," : "")
                    + IntStream.range(0, databases.size())
                            .mapToObj(i -> (byRegion ? REGIONS.get(i) + "=" : "")
                                    + databases.get(i).address())
                            .collect(Collectors.joining(","));
        }
    }

    private static List<Kind> kinds(String words) {
        return java.util.Arrays.stream(words.split(" ")).map(Kind::valueOf).toList();
    }

    @ParameterizedTest
    @CsvSource({
        "POSTGRESQL, POSTGRESQL POSTGRESQL POSTGRESQL, auto, true",
        "POSTGRESQL, POSTGRESQL POSTGRESQL, checksum, false",
        "MARIADB, POSTGRESQL MARIADB SQLITE, stream, true",
        "MARIADB, MARIADB POSTGRESQL, checksum, false",
        "SQLITE, H2 DUCKDB SQLITE, auto, true",
        "H2, SQLITE SQLITE, stream, false",
        "MYSQL, MYSQL MARIADB, checksum, false"
    })
    void aUnionIsComparedAsOneTable(Kind whole, String parts, String method, boolean byRegion) throws Exception {
        for (int round = 0; round < 2; round++) {
            long seed = Seed.next();
            Random random = new Random(seed);
            String story = "seed " + seed + " " + whole + " and " + parts + " by " + method;
            System.out.println(story);
            Path own = Files.createDirectory(folder.resolve("round" + round));
            List<String> regions = REGIONS.subList(0, kinds(parts).size());
            ModelRows rows = ModelRows.random(random, random.nextBoolean() ? 5_000 : 60, regions);
            ModelRows other = rows.damaged(random, regions, false);
            Database one = new Database(whole, own, "whole" + round);
            rows.fill(one, "reading", ModelRows.COLUMNS);
            Parts many = Parts.of(other, kinds(parts), own, "part" + round + "_", random, byRegion);
            Tool tool = new Tool(own);
            for (boolean turned : List.of(false, true)) {
                Set<String> expected = turned
                        ? other.differences(rows, ModelRows.COLUMNS)
                        : rows.differences(other, ModelRows.COLUMNS);
                List<String> sides = new ArrayList<>(List.of(one.address(), many.address(byRegion)));
                if (turned) {
                    java.util.Collections.reverse(sides);
                }
                Tool.Result compared = tool.run(
                        "compare",
                        sides.get(0),
                        sides.get(1),
                        "--method",
                        method,
                        "--workers",
                        "" + (1 + random.nextInt(2)),
                        "--format",
                        "json");
                assertThat(compared.code()).as(story + compared.all()).isEqualTo(expected.isEmpty() ? 0 : 1);
                JsonNode run = compared.json();
                assertThat(ModelRows.found(tool, run.get("folder").asText()))
                        .as(story)
                        .isEqualTo(expected);
                JsonNode match = run.at("/run/matches/0");
                long rowsOfUnion = other.byId().size();
                assertThat(match.get(turned ? "source-rows" : "target-rows").asLong())
                        .as(story)
                        .isEqualTo(rowsOfUnion);
            }
        }
    }

    /** A key in two parts is told, however the rows are: also where each is like the source's. */
    @ParameterizedTest
    @CsvSource({"POSTGRESQL, checksum", "POSTGRESQL, auto", "SQLITE, stream"})
    void aKeyInTwoPartsIsTold(Kind kind, String method) throws Exception {
        Random random = new Random(5);
        ModelRows rows = ModelRows.random(random, 3_000, REGIONS);
        Database whole = new Database(kind, folder, "whole");
        rows.fill(whole, "reading", ModelRows.COLUMNS);
        Parts parts = Parts.of(rows, List.of(kind, kind), folder, "part", random, false);
        int id = parts.rows().get(0).byId().keySet().stream()
                .skip(100)
                .findFirst()
                .orElseThrow();
        int lost = parts.rows().get(1).byId().keySet().stream()
                .skip(90)
                .findFirst()
                .orElseThrow();
        List<String> row = rows.byId().get(id);
        parts.databases()
                .get(1)
                .execute(
                        "DELETE FROM reading WHERE id = " + lost,
                        "INSERT INTO reading VALUES (" + id + ", '" + row.get(0) + "', " + row.get(1) + ", '"
                                + row.get(2).replace("'", "''") + "')");
        Tool tool = new Tool(folder);
        Tool.Result compared = tool.run("compare", whole.address(), parts.address(false), "--method", method);
        assertThat(compared.code()).as(compared.all()).isEqualTo(1);
        assertThat(compared.out()).contains("1 repeated key");
        Tool.Result split = tool.run("split");
        assertThat(split.code()).as(split.all()).isEqualTo(5);
        assertThat(split.out()).contains("1 row that no part has", "1 row of keys that stand more than once");
    }

    /** What is split and applied part by part leaves nothing, and no row of another part is touched. */
    @ParameterizedTest
    @CsvSource({
        "SQLITE, SQLITE SQLITE SQLITE, true",
        "POSTGRESQL, POSTGRESQL MARIADB, false",
        "H2, POSTGRESQL H2 MARIADB, true",
        "DUCKDB, MARIADB SQLITE, false"
    })
    void eachPartIsPutRightByItself(Kind whole, String kinds, boolean byRegion) throws Exception {
        long seed = Seed.next();
        Random random = new Random(seed);
        System.out.println("seed " + seed);
        List<String> regions = REGIONS.subList(0, kinds(kinds).size());
        ModelRows rows = ModelRows.random(random, 400, regions);
        ModelRows other = rows;
        while (rows.differences(other, ModelRows.COLUMNS).size() < 6) {
            other = other.damaged(random, regions, true);
        }
        Database one = new Database(whole, folder, "whole");
        rows.fill(one, "reading", ModelRows.COLUMNS);
        Parts parts = Parts.of(other, kinds(kinds), folder, "part", random, byRegion);
        Tool tool = new Tool(folder);
        String union = parts.address(byRegion);
        Tool.Result compared = tool.run("compare", one.address(), union);
        assertThat(compared.code()).as(compared.all()).isEqualTo(1);
        assertThat(tool.run("script").err()).contains("split the run");
        Tool.Result split = byRegion
                ? tool.run("split", "--format", "json")
                : tool.run("split", "--missing-to", parts.databases().get(1).address(), "--format", "json");
        assertThat(split.code()).as(split.all()).isZero();
        for (JsonNode part : split.json().get("parts")) {
            if (part.get("folder").isNull()) {
                continue;
            }
            String run = part.get("folder").asText();
            Tool.Result script = tool.run("script", run);
            assertThat(script.code()).as(script.all()).isZero();
            Tool.Result applied = tool.run("apply", run, "--yes");
            assertThat(applied.code()).as("seed " + seed + applied.all()).isZero();
            assertThat(applied.out()).contains("no longer different");
        }
        Tool.Result again = tool.run("compare", one.address(), union);
        assertThat(again.code()).as("seed " + seed + again.all()).isZero();
        Tool.Result nothing = tool.run("split");
        assertThat(nothing.out()).as(nothing.all()).contains("nothing differs there");
    }

    /** As a job file says it: a list, or parts by name; and what is not alike is told before anything is compared. */
    @Test
    void aJobFileNamesAUnion() throws Exception {
        Random random = new Random(11);
        ModelRows rows = ModelRows.random(random, 300, List.of("north", "south"));
        rows.fill(new Database(Kind.SQLITE, folder, "whole"), "reading", ModelRows.COLUMNS);
        Database north = new Database(Kind.SQLITE, folder, "n");
        Database south = new Database(Kind.SQLITE, folder, "s");
        rows.only(row -> row.getValue().get(0).equals("north")).fill(north, "reading", List.of("millis", "remark"));
        rows.only(row -> row.getValue().get(0).equals("south")).fill(south, "reading", List.of("millis", "remark"));
        Files.writeString(
                folder.resolve("connections.yaml"),
                "connections:\n  north: {address: \"sqlite:n.db\"}\n  south: {address: \"sqlite:s.db\"}\n");
        Files.writeString(
                folder.resolve("named.yaml"),
                "job: 1\nsource: sqlite:whole.db\ntarget: {by: region, north: \"@north\", south: \"@south\"}\n");
        Files.writeString(
                folder.resolve("list.yaml"),
                "job: 1\nsource: sqlite:whole.db\ntarget: [\"@north\", \"@south\"]\nmatches:\n  - source: reading\n"
                        + "    leave-out: [region]\n");
        Tool tool = new Tool(folder);
        for (String job : List.of("named.yaml", "list.yaml")) {
            Tool.Result compared = tool.run("compare", "--job", job);
            assertThat(compared.code()).as(job + compared.all()).isZero();
            assertThat(compared.out()).contains("same: every row of 1 table was compared");
        }
        south.execute("ALTER TABLE reading ADD COLUMN depth INTEGER");
        assertThat(tool.run("compare", "--job", "list.yaml").err())
                .contains("not alike in all parts of a union: it has column depth in south, not in north");
        south.execute("CREATE TABLE datum (id INTEGER PRIMARY KEY)");
        new Database(Kind.SQLITE, folder, "whole").execute("CREATE TABLE datum (id INTEGER PRIMARY KEY)");
        assertThat(tool.run("compare", "sqlite:whole.db", "union:@north,@south", "--table", "datum")
                        .err())
                .contains("a table of a union is not in north");
        for (String wrong : List.of("union:@north", "union:@north#reading,@south", "union:@north,@north", "union:")) {
            Tool.Result refused = tool.run("compare", "sqlite:whole.db", wrong);
            assertThat(refused.code()).as(wrong + refused.all()).isEqualTo(2);
            assertThat(refused.err().strip().lines()).as(refused.all()).hasSize(1);
        }
    }
}
