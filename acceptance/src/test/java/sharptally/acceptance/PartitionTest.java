package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import sharptally.acceptance.Database.Kind;

/** Tables that are compared partition by partition: each row is in exactly one, the one that its database puts it in. */
@InTurn(1)
class PartitionTest {
    private static final List<String> REGIONS = List.of("N", "NE", "O'B", "S", "n", "other");
    private static final LocalDate FIRST = LocalDate.of(2025, 11, 20);

    @TempDir
    Path folder;

    /** The key of a row; the last part of it is not always a column of the key. */
    private record Key(int id, LocalDate on, String region) implements Comparable<Key> {
        @Override
        public int compareTo(Key other) {
            return toString().compareTo(other.toString());
        }

        static Key random(Random random, int id) {
            return new Key(id, FIRST.plusDays(random.nextInt(180)), REGIONS.get(random.nextInt(REGIONS.size())));
        }
    }

    /** How a table is divided: what a database is told, and the name of the part that a row is in. */
    private enum Division {
        BY_MONTH {
            @Override
            String part(Key key) {
                return key.on.isBefore(LocalDate.of(2026, 1, 1)) || !key.on.isBefore(LocalDate.of(2026, 4, 1))
                        ? "others"
                        : key.on.toString().substring(0, 7).replace('-', '_');
            }

            @Override
            List<String> postgres() {
                List<String> parts = new ArrayList<>(List.of("PARTITION BY RANGE (taken_on)"));
                for (int month = 1; month < 4; month++) {
                    parts.add("reading_2026_0" + month + " PARTITION OF reading FOR VALUES FROM ('2026-0" + month
                            + "-01') TO ('2026-0" + (month + 1) + "-01')");
                }
                parts.add("reading_rest PARTITION OF reading DEFAULT");
                return parts;
            }

            @Override
            String mariaDb(Random random) {
                String column = random.nextBoolean() ? "RANGE COLUMNS (taken_on)" : "RANGE (TO_DAYS(taken_on))";
                String form = column.contains("TO_DAYS") ? "TO_DAYS('%s')" : "'%s'";
                List<String> parts = new ArrayList<>();
                parts.add("PARTITION early VALUES LESS THAN (" + form.formatted("2026-01-01") + ")");
                for (int month = 1; month < 4; month++) {
                    parts.add("PARTITION 2026_0" + month + " VALUES LESS THAN ("
                            + form.formatted("2026-0" + (month + 1) + "-01") + ")");
                }
                parts.add(
                        "PARTITION late VALUES LESS THAN " + (column.contains("COLUMNS") ? "(MAXVALUE)" : "MAXVALUE"));
                return "PARTITION BY " + column + " (" + String.join(", ", parts) + ")";
            }
        },
        BY_YEAR {
            @Override
            String part(Key key) {
                return "y" + key.on.getYear();
            }

            @Override
            List<String> postgres() {
                return List.of(
                        "PARTITION BY RANGE (taken_on)",
                        "y2025 PARTITION OF reading FOR VALUES FROM (MINVALUE) TO ('2026-01-01')",
                        "y2026 PARTITION OF reading FOR VALUES FROM ('2026-01-01') TO (MAXVALUE)");
            }

            @Override
            String mariaDb(Random random) {
                return "PARTITION BY RANGE (YEAR(taken_on)) (PARTITION y2025 VALUES LESS THAN (2026),"
                        + " PARTITION y2026 VALUES LESS THAN (2027))";
            }
        },
        BY_REGION {
            @Override
            String part(Key key) {
                return switch (key.region) {
                    case "N", "NE" -> "north";
                    case "O'B" -> "quoted";
                    default -> "others";
                };
            }

            @Override
            List<String> postgres() {
                return List.of(
                        "PARTITION BY LIST (region)",
                        "reading_north PARTITION OF reading FOR VALUES IN ('N', 'NE')",
                        "reading_quoted PARTITION OF reading FOR VALUES IN ('O''B')",
                        "reading_rest PARTITION OF reading DEFAULT");
            }

            @Override
            String mariaDb(Random random) {
                return "PARTITION BY LIST COLUMNS (region) (PARTITION north VALUES IN ('N', 'NE'), PARTITION quoted"
                        + " VALUES IN ('O''B'), PARTITION rest DEFAULT)";
            }
        },
        BY_ID {
            @Override
            String part(Key key) {
                return key.id < -10 ? "low" : key.id < 100 ? "middle" : "others";
            }

            @Override
            List<String> postgres() {
                return List.of(
                        "PARTITION BY RANGE (id)",
                        "reading_low PARTITION OF reading FOR VALUES FROM (MINVALUE) TO (-10)",
                        "reading_middle PARTITION OF reading FOR VALUES FROM (-10) TO (100)",
                        "reading_rest PARTITION OF reading DEFAULT");
            }

            @Override
            String mariaDb(Random random) {
                return "PARTITION BY RANGE (id) (PARTITION low VALUES LESS THAN (-10), PARTITION middle VALUES LESS THAN"
                        + " (100), PARTITION others_too VALUES LESS THAN MAXVALUE)";
            }
        };

        abstract String part(Key key);

        abstract List<String> postgres();

        abstract String mariaDb(Random random);

        /** MariaDB names what is before the first bound, and behind the last; so do parts by other names. */
        String part(Key key, Kind kind) {
            String part = part(key);
            if (kind == Kind.POSTGRESQL || !part.equals("others")) {
                return part;
            }
            return switch (this) {
                case BY_MONTH -> key.on.isBefore(LocalDate.of(2026, 1, 1)) ? "early" : "late";
                case BY_ID -> "others_too";
                default -> part;
            };
        }
    }

    private static void make(Database database, Map<Key, Integer> rows, Optional<Division> division, Random random)
            throws Exception {
        boolean maria = database.kind() == Kind.MARIADB || database.kind() == Kind.MYSQL;
        String binary = maria ? " CHARACTER SET utf8 COLLATE utf8_bin" : "";
        String table = "CREATE TABLE reading (id INTEGER, taken_on DATE, region VARCHAR(8)" + binary
                + ", level_mm INTEGER, PRIMARY KEY (id, taken_on, region)) ";
        List<String> statements = new ArrayList<>();
        if (division.isPresent() && !maria) {
            List<String> words = division.get().postgres();
            statements.add(table + words.get(0));
            words.subList(1, words.size()).forEach(part -> statements.add("CREATE TABLE " + part));
        } else {
            statements.add(table + division.map(d -> d.mariaDb(random)).orElse(""));
        }
        List<String> values = rows.entrySet().stream()
                .map(row -> "(" + row.getKey().id + ", '" + row.getKey().on + "', '"
                        + row.getKey().region.replace("'", "''") + "', " + row.getValue() + ")")
                .toList();
        for (int from = 0; from < values.size(); from += 500) {
            statements.add("INSERT INTO reading VALUES "
                    + String.join(", ", values.subList(from, Math.min(values.size(), from + 500))));
        }
        database.execute(statements.toArray(String[]::new));
    }

    private static Map<Key, Integer> damaged(Map<Key, Integer> rows, Random random) {
        Map<Key, Integer> other = new TreeMap<>(rows);
        int times = random.nextInt(4) == 0 ? 0 : 1 + random.nextInt(8);
        for (int i = 0; i < times && !other.isEmpty(); i++) {
            Key key = List.copyOf(other.keySet()).get(random.nextInt(other.size()));
            switch (random.nextInt(4)) {
                case 0 -> other.remove(key);
                case 1 -> other.put(key, random.nextInt(9_000) + 100_000);
                case 2 -> other.put(Key.random(random, 5_000 + i), 1);
                default -> {
                    // A row that has moved to another day is another row.
                    int level = other.remove(key);
                    other.put(new Key(key.id, key.on.plusDays(40), key.region), level);
                }
            }
        }
        return other;
    }

    /** Of each part, how many rows either side has, and how many of them differ by kind. */
    private static Map<String, List<Long>> counts(
            Map<Key, Integer> source, Map<Key, Integer> target, java.util.function.Function<Key, String> part) {
        Map<String, List<Long>> all = new TreeMap<>();
        java.util.function.BiConsumer<String, List<Long>> add = (name, counts) -> all.merge(
                name,
                counts,
                (one, other) -> java.util.stream.IntStream.range(0, one.size())
                        .mapToObj(i -> one.get(i) + other.get(i))
                        .toList());
        source.forEach((key, level) -> {
            Integer other = target.get(key);
            add.accept(
                    part.apply(key),
                    List.of(1L, 0L, other != null && !other.equals(level) ? 1L : 0L, other == null ? 1L : 0L, 0L));
        });
        target.forEach((key, level) ->
                add.accept(part.apply(key), List.of(0L, 1L, 0L, 0L, source.containsKey(key) ? 0L : 1L)));
        return all;
    }

    @ParameterizedTest
    @CsvSource({
        "POSTGRESQL, POSTGRESQL, true",
        "POSTGRESQL, MARIADB, true",
        "MARIADB, POSTGRESQL, true",
        "MARIADB, MARIADB, true",
        "POSTGRESQL, POSTGRESQL, false",
        "H2, MARIADB, false",
        "MARIADB, DUCKDB, true",
        "POSTGRESQL, SQLITE, true",
        "MYSQL, POSTGRESQL, true"
    })
    void eachPartIsComparedByItself(Kind from, Kind to, boolean ofSource) throws Exception {
        for (int round = 0; round < 4; round++) {
            long seed = Seed.next();
            Random random = new Random(seed);
            Division division = Division.values()[random.nextInt(Division.values().length)];
            if ((from == Kind.MYSQL || !ofSource && to == Kind.MYSQL) && division == Division.BY_REGION) {
                division = Division.BY_YEAR;
            }
            String story = "seed " + seed + " " + from + " and " + to + " " + division;
            System.out.println(story);
            Path own = Files.createDirectory(folder.resolve("round" + round));
            Map<Key, Integer> rows = new TreeMap<>();
            int number = random.nextInt(600);
            for (int i = 0; i < number; i++) {
                rows.put(Key.random(random, random.nextInt(400) - 100), random.nextInt(9_000));
            }
            Map<Key, Integer> others = damaged(rows, random);
            Database source = new Database(from, own, "source" + round);
            Database target = new Database(to, own, "target" + round);
            // How the other side divides its rows is of no account.
            boolean both = from == to && random.nextBoolean();
            make(source, rows, Optional.of(division).filter(d -> ofSource || both), random);
            make(target, others, Optional.of(division).filter(d -> !ofSource || both), random);
            Kind divided = ofSource ? from : to;
            Division by = division;
            Map<String, List<Long>> expected =
                    counts(rows, others, key -> by.part(key, divided == Kind.MYSQL ? Kind.MARIADB : divided));
            Tool tool = new Tool(own);
            Tool.Result compared = tool.run(
                    "compare",
                    source.address(),
                    target.address(),
                    "--by-partition",
                    "--workers",
                    "" + (1 + random.nextInt(2)),
                    "--format",
                    "json");
            boolean same = rows.equals(others);
            assertThat(compared.code()).as(story + compared.all()).isEqualTo(same ? 0 : 1);
            assertThat(found(compared.json().at("/run/matches"))).as(story).isEqualTo(expected);
            if (!same) {
                onlyWhatFailedIsComparedAgain(
                        tool, compared.json().get("folder").asText(), story, expected);
                allIsPutRight(tool, compared.json().get("folder").asText(), story);
            }
            Tool.Result again = tool.run("compare", source.address(), target.address(), "--by-partition");
            assertThat(again.code()).as(story + again.all()).isZero();
            assertThat(again.out()).contains("partitions was compared, nothing differs");
            assertThat(tool.run("compare", source.address(), target.address()).code())
                    .as(story)
                    .isZero();
        }
    }

    /** Of a file, whose rows are chosen here. */
    @Test
    void aFileIsHeldAgainstEachPart() throws Exception {
        for (Division division : Division.values()) {
            long seed = Seed.next();
            Random random = new Random(seed);
            String story = "seed " + seed + " " + division;
            System.out.println(story);
            Path own = Files.createDirectory(folder.resolve(division.name()));
            Map<Key, Integer> rows = new TreeMap<>();
            for (int i = 0; i < 300; i++) {
                rows.put(Key.random(random, random.nextInt(400) - 100), random.nextInt(9_000));
            }
            Map<Key, Integer> others = damaged(rows, random);
            Database source = new Database(Kind.POSTGRESQL, own, "source");
            make(source, rows, Optional.of(division), random);
            List<String> lines = new ArrayList<>(List.of("id;taken_on;region;level_mm"));
            others.forEach((key, level) -> lines.add(key.id + ";" + key.on + ";" + key.region + ";" + level));
            Files.write(own.resolve("reading.csv"), lines);
            Tool tool = new Tool(own);
            Tool.Result compared = tool.run(
                    "compare", source.address() + "#reading", "csv:reading.csv", "--by-partition", "--format", "json");
            assertThat(compared.code()).as(story + compared.all()).isEqualTo(rows.equals(others) ? 0 : 1);
            assertThat(found(compared.json().at("/run/matches")))
                    .as(story)
                    .isEqualTo(counts(rows, others, key -> division.part(key, Kind.POSTGRESQL)));
        }
    }

    private static Map<String, List<Long>> found(JsonNode matches) {
        Map<String, List<Long>> found = new TreeMap<>();
        for (JsonNode match : matches) {
            List<Long> counts = List.of("source-rows", "target-rows", "changed", "missing", "extra").stream()
                    .map(field -> match.get(field).asLong())
                    .toList();
            if (counts.stream().anyMatch(n -> n > 0)) {
                found.put(match.get("name").asText().replaceFirst("(?i)^reading/", ""), counts);
            }
        }
        return found;
    }

    private static void onlyWhatFailedIsComparedAgain(
            Tool tool, String run, String story, Map<String, List<Long>> expected) {
        Map<String, List<Long>> failed = expected.entrySet().stream()
                .filter(e -> e.getValue().subList(2, 5).stream().anyMatch(n -> n > 0))
                .collect(Collectors.toMap(Map.Entry::getKey, Map.Entry::getValue, (a, b) -> a, LinkedHashMap::new));
        Tool.Result again = tool.run("compare", "--only-failed", run, "--runs", "again", "--format", "json");
        assertThat(again.code()).as(story + again.all()).isEqualTo(1);
        assertThat(found(again.json().at("/run/matches"))).as(story).isEqualTo(new TreeMap<>(failed));
    }

    private static void allIsPutRight(Tool tool, String run, String story) {
        Tool.Result applied = tool.run("apply", run, "--yes");
        assertThat(applied.code()).as(story + applied.all()).isZero();
        assertThat(applied.out()).as(story).contains("no longer different");
    }

    /** A value that a row gives up in one partition may be taken by one of another, in whichever order they stand. */
    @Test
    void changesOfOnePartitionComeBeforeWhatNeedsThemInAnother() throws Exception {
        Database source = new Database(Kind.POSTGRESQL, folder, "source");
        Database target = new Database(Kind.POSTGRESQL, folder, "target");
        source.execute(
                "CREATE TABLE gauge (region TEXT, id INTEGER, slot INTEGER, PRIMARY KEY (region, id)) PARTITION BY LIST (region)",
                "CREATE TABLE gauge_n PARTITION OF gauge FOR VALUES IN ('N')",
                "CREATE TABLE gauge_s PARTITION OF gauge FOR VALUES IN ('S')",
                "INSERT INTO gauge VALUES ('N', 1, 7), ('N', 2, 9), ('S', 2, 8)");
        target.execute(
                "CREATE TABLE gauge (region TEXT, id INTEGER, slot INTEGER UNIQUE, PRIMARY KEY (region, id))",
                "INSERT INTO gauge VALUES ('S', 1, 7), ('N', 2, 8), ('S', 2, 9)");
        Tool tool = new Tool(folder);
        Tool.Result compared = tool.run("compare", source.address(), target.address(), "--by-partition");
        assertThat(compared.code()).as(compared.all()).isEqualTo(1);
        allIsPutRight(tool, tool.latestRun().toString(), "");
        assertThat(tool.run("compare", source.address(), target.address()).code())
                .isZero();
    }

    /** What can't be divided is compared as one, and said to be; single partitions are chosen, and left out, by name. */
    @Test
    void whatIsAskedForIsSaid() throws Exception {
        Database source = new Database(Kind.POSTGRESQL, folder, "source");
        Database target = new Database(Kind.SQLITE, folder, "target");
        source.execute(
                "CREATE TABLE reading (id INTEGER PRIMARY KEY, mm INTEGER) PARTITION BY RANGE (id)",
                "CREATE TABLE reading_a PARTITION OF reading FOR VALUES FROM (0) TO (100)",
                "CREATE TABLE reading_b PARTITION OF reading FOR VALUES FROM (100) TO (200)",
                "CREATE TABLE gauge (id INTEGER PRIMARY KEY) PARTITION BY HASH (id)",
                "CREATE TABLE gauge_0 PARTITION OF gauge FOR VALUES WITH (MODULUS 1, REMAINDER 0)",
                "CREATE TABLE moved (id INTEGER, on_day DATE, PRIMARY KEY (id, on_day)) PARTITION BY RANGE (on_day)",
                "CREATE TABLE moved_a PARTITION OF moved FOR VALUES FROM (MINVALUE) TO (MAXVALUE)",
                "INSERT INTO reading SELECT n, n FROM generate_series(0, 199) n");
        target.execute(
                "CREATE TABLE reading (id INTEGER PRIMARY KEY, mm INTEGER)",
                "CREATE TABLE gauge (id INTEGER PRIMARY KEY)",
                "CREATE TABLE moved (id INTEGER PRIMARY KEY, on_day DATE)",
                "WITH RECURSIVE n(i) AS (SELECT 0 UNION ALL SELECT i + 1 FROM n WHERE i < 198)"
                        + " INSERT INTO reading SELECT i, i FROM n");
        Tool tool = new Tool(folder);
        Tool.Result all = tool.run("compare", source.address(), target.address(), "--by-partition");
        assertThat(all.code()).as(all.all()).isEqualTo(1);
        assertThat(all.out())
                .contains(
                        "gauge: compared as one, not by partition: its partitions are by a hash",
                        "5 of 6 tables and partitions same; 0 changed, 1 missing, 0 extra");
        Tool.Result one =
                tool.run("compare", source.address(), target.address(), "--by-partition", "--table", "reading/a");
        assertThat(one.code()).as(one.all()).isZero();
        assertThat(one.out()).contains("every row of 1 partition was compared");
        Tool.Result less = tool.run(
                "compare",
                source.address(),
                target.address(),
                "--by-partition",
                "--table",
                "reading",
                "--leave-out-table",
                "reading/b");
        assertThat(less.code()).as(less.all()).isZero();
        assertThat(less.out()).contains("of 3 partitions 2 compared, 1 left out on request");
        Tool.Result none =
                tool.run("compare", source.address(), target.address(), "--by-partition", "--table", "reading/c");
        assertThat(none.code()).isEqualTo(2);
        assertThat(none.err())
                .contains("there is no such partition: reading/c", "reading/a, reading/b, reading/others");
        Tool.Result hashed =
                tool.run("compare", source.address(), target.address(), "--by-partition", "--table", "gauge");
        assertThat(hashed.code()).isEqualTo(2);
        assertThat(hashed.err()).contains("no table can be compared by partition");
        Tool.Result moved = tool.run(
                "compare", source.address(), target.address(), "--by-partition", "--table", "moved", "--key", "id");
        assertThat(moved.code()).isEqualTo(2);
        assertThat(moved.err()).contains("on_day, which is not of the key: a row that moved would be told as missing");
        Files.writeString(folder.resolve("job.yaml"), """
                job: 1
                source: %s
                target: %s
                matches:
                  - source: reading
                    target: reading
                    at-most: 5 rows
                """.formatted(source.address(), target.address()));
        Tool.Result allowed = tool.run("compare", "--job", "job.yaml", "--by-partition");
        assertThat(allowed.code()).isEqualTo(2);
        assertThat(allowed.err()).contains("at-most and expect are of a whole table");
    }
}
