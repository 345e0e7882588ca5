package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.junit.jupiter.params.provider.ValueSource;
import sharptally.acceptance.Database.Kind;

/** What a database says of its rows, a file of them says as well: totals, conditions, queries; the database is the oracle. */
class FilesAskedTest {
    @TempDir
    Path folder;

    /** A table with a key, columns of kinds whose values can be written into conditions, and none whose sum is beyond all. */
    private static RandomTable table(Random random) {
        RandomTable table = new RandomTable(random);
        while (table.key.isEmpty()
                || table.source.size() < 20
                || ranked(table).isEmpty()
                || table.types.contains(RandomTable.Type.DOUBLE)) {
            table = new RandomTable(random);
        }
        return table;
    }

    private static List<Integer> ranked(RandomTable table) {
        return Stream.iterate(0, i -> i < table.columns.size(), i -> i + 1)
                .filter(i -> Set.of(
                                RandomTable.Type.INT,
                                RandomTable.Type.DECIMAL,
                                RandomTable.Type.DATE,
                                RandomTable.Type.TIMESTAMP)
                        .contains(table.types.get(i)))
                .toList();
    }

    @ParameterizedTest
    @EnumSource(
            value = Kind.class,
            names = {"POSTGRESQL", "DUCKDB", "H2"})
    void aFileAnswersAsTheDatabaseThatWroteIt(Kind kind) throws Exception {
        long seed = Seed.next();
        Random random = new Random(seed);
        RandomTable table = table(random);
        String story = "seed " + seed + " " + kind + " " + table;
        System.out.println(story);
        Database source = new Database(kind, folder, "source");
        Database target = new Database(kind, folder, "target");
        table.create(source, table.source);
        table.create(target, table.target);
        String file = new Exported(source, table, folder).write("rows");
        Tool tool = new Tool(folder);

        Map<String, String> ofFile = figures(tool, file, target, story);
        assertThat(ofFile).as(story).isNotEmpty().isEqualTo(figures(tool, source.address() + "#t", target, story));

        for (int round = 0; round < 2; round++) {
            int column = RandomTable.pick(random, ranked(table).toArray(new Integer[0]));
            Object value = table.source.get(random.nextInt(table.source.size()))[column];
            String operator = RandomTable.pick(random, "<", "<=", ">", ">=", "=", "!=");
            String plain = RandomTable.plain(value);
            String name = table.columns.get(column);
            String condition = value == null ? name + " is not null" : name + " " + operator + " '" + plain + "'";
            sameFindings(tool, table, file, source, target, "--if", condition, story);
            String literal = switch (table.types.get(column)) {
                case DATE -> "DATE '" + plain + "'";
                case TIMESTAMP -> "TIMESTAMP '" + plain + "'";
                default -> plain;
            };
            String quoted = "\"" + name.replace("\"", "\"\"") + "\"";
            String sql = value == null ? quoted + " IS NOT NULL" : quoted + " " + operator + " " + literal;
            sameFindings(tool, table, file, source, target, "--where", sql, story);
        }
        String job = """
                job: 1
                source: '%s'
                target: '%s'
                matches:
                  - name: asked
                    source: {query: SELECT * FROM %s}
                    target: t
                    key: [%s]
                """;
        List<String> key = table.key.stream()
                .map(c -> "'" + table.columns.get(c).replace("'", "''") + "'")
                .toList();
        Path path = folder.resolve("job.yaml");
        Files.writeString(path, job.formatted(file, target.address(), "rows", String.join(", ", key)));
        Tool.Result asked = tool.run("compare", "--job", path.toString());
        assertThat(asked.code()).as(story + asked.all()).isEqualTo(table.expected.isEmpty() ? 0 : 1);
        assertThat(FilesTest.findings(tool.run("show", "--format", "jsonl").out(), table))
                .as(story)
                .containsOnlyKeys(table.expected.keySet());
    }

    /** Checksums of a file are those of the database that wrote it, whichever of them made the file of checksums. */
    @ParameterizedTest
    @EnumSource(
            value = Kind.class,
            names = {"POSTGRESQL", "DUCKDB", "H2", "MARIADB", "SQLITE"})
    void checksumsGoBothWays(Kind kind) throws Exception {
        long seed = Seed.next();
        Random random = new Random(seed);
        RandomTable table = table(random);
        String story = "seed " + seed + " " + kind + " " + table;
        System.out.println(story);
        Database source = new Database(kind, folder, "source");
        Database target = new Database(kind, folder, "target");
        Collections.shuffle(table.source, random);
        table.create(source, table.source);
        table.create(target, table.target);
        String file = new Exported(source, table, folder).write("rows");
        String range = Integer.toString(5 + random.nextInt(40));
        Tool tool = new Tool(folder);
        List<String> make = new ArrayList<>(List.of("checksum", file, "--range-rows", range, "--out", "file.sums"));
        make.addAll(List.of("--like", source.address() + "#t"));
        List<String> makeThere = new ArrayList<>(
                List.of("checksum", source.address() + "#t", "--range-rows", range, "--out", "db.sums"));
        for (int c : table.key) {
            make.addAll(List.of("--key", table.columns.get(c)));
            makeThere.addAll(List.of("--key", table.columns.get(c)));
        }
        for (List<String> command : List.of(make, makeThere)) {
            Tool.Result made = tool.run(command.toArray(new String[0]));
            assertThat(made.code()).as(story + made.all()).isZero();
        }
        int differs = table.expected.isEmpty() ? 0 : 1;
        Tool.Result there = tool.run("checksum", source.address() + "#t", "--against", "file.sums");
        assertThat(there.code()).as(story + there.all()).isZero();
        Tool.Result here = tool.run("checksum", file, "--against", "db.sums");
        assertThat(here.code()).as(story + here.all()).isZero();
        Tool.Result edited = tool.run("checksum", target.address() + "#t", "--against", "file.sums");
        assertThat(edited.code()).as(story + edited.all()).isEqualTo(differs);
        // The other way round, ranges are cut among the rows of the file.
        make.set(1, new Exported(target, table, folder).write("edited"));
        assertThat(tool.run(make.toArray(new String[0])).code()).isZero();
        Tool.Result turned = tool.run("checksum", source.address() + "#t", "--against", "file.sums");
        assertThat(turned.code()).as(story + turned.all()).isEqualTo(differs);
        long rows = Files.readAllLines(folder.resolve("file.sums")).stream()
                .filter(l -> l.startsWith("{\"from\":"))
                .mapToLong(l -> Long.parseLong(l.replaceAll(".*\"rows\":(\\d+).*", "$1")))
                .sum();
        assertThat(rows).as(story).isEqualTo(table.target.size());
    }

    /** Blanks that a database adds to its CHAR columns are no difference, whichever side made the checksums. */
    @Test
    void checksumsOfPaddedColumnsGoBothWays() throws Exception {
        Database source = new Database(Kind.POSTGRESQL, folder, "source");
        source.execute(
                "CREATE TABLE t (code char(6) PRIMARY KEY, name char(9), note text)",
                "INSERT INTO t VALUES ('a', 'north', 'x '), ('bb', '', ' '), ('c', NULL, '')");
        Files.writeString(folder.resolve("t.csv"), "code,name,note\na,north,x \nbb    ,\"\",\" \"\nc     ,,\"\"\n");
        Tool tool = new Tool(folder);
        String table = source.address() + "#t";
        for (List<String> command : List.of(
                List.of("checksum", "csv:t.csv", "--key", "code", "--like", table, "--out", "file.sums"),
                List.of("checksum", table, "--against", "file.sums"),
                List.of("checksum", table, "--out", "db.sums"),
                List.of("checksum", "csv:t.csv", "--against", "db.sums"),
                List.of("checksum", "csv:t.csv", "--key", "code", "--like", "db.sums", "--out", "file.sums"),
                List.of("checksum", table, "--against", "file.sums"))) {
            Tool.Result result = tool.run(command.toArray(new String[0]));
            assertThat(result.code()).as(command + result.all()).isZero();
        }
        source.execute("UPDATE t SET note = 'x' WHERE code = 'a'");
        assertThat(tool.run("checksum", table, "--against", "file.sums").code()).isEqualTo(1);
    }

    private static void sameFindings(
            Tool tool,
            RandomTable table,
            String file,
            Database source,
            Database target,
            String option,
            String condition,
            String story)
            throws Exception {
        List<Map<String, Set<String>>> found = new ArrayList<>();
        List<String> counts = new ArrayList<>();
        for (String from : List.of(file, source.address() + "#t")) {
            List<String> command = new ArrayList<>(
                    List.of("compare", from, target.address() + "#t", option, condition, "--allow-empty"));
            for (int c : table.key) {
                command.addAll(List.of("--key", table.columns.get(c)));
            }
            Tool.Result result = tool.run(command.toArray(new String[0]));
            assertThat(result.code())
                    .as(story + "\n" + condition + result.all())
                    .isBetween(0, 1);
            found.add(new TreeMap<>(
                    FilesTest.findings(tool.run("show", "--format", "jsonl").out(), table)));
            counts.add(result.out()
                    .lines()
                    .filter(l -> l.matches("(rows > )?t +\\d.*|rows > t .*"))
                    .map(l ->
                            l.replaceFirst("^rows > ", "").replaceAll(" +", " ").replaceAll("(( [0-9,]+){6}).*", "$1"))
                    .findFirst()
                    .orElse(result.out()));
        }
        assertThat(found.get(0)).as(story + "\n" + condition).isEqualTo(found.get(1));
        assertThat(counts.get(0)).as(story + "\n" + condition).isEqualTo(counts.get(1));
    }

    private static Map<String, String> figures(Tool tool, String from, Database target, String story) throws Exception {
        Tool.Result result =
                tool.run("totals", from, target.address() + "#t", "--figure", "all", "--all", "--format", "json");
        assertThat(result.code()).as(story + result.all()).isBetween(0, 1);
        Map<String, String> figures = new TreeMap<>();
        for (JsonNode line : result.json().at("/run/totals/0/lines")) {
            String measure = line.get("measure").asText();
            String column = line.get("column").asText();
            // Added in another order, floating values make another sum.
            String source = line.get("source").asText();
            figures.put(
                    measure + "(" + column + ")",
                    source.contains(".") && measure.matches("(?i)sum|mean") && source.length() > 14
                            ? source.substring(0, 12)
                            : source);
        }
        return figures;
    }

    @ParameterizedTest
    @ValueSource(strings = {"stream", "joined"})
    void parquetIsComparedByEachMethod(String method) throws Exception {
        long seed = Seed.next();
        Random random = new Random(seed);
        RandomTable table = table(random);
        String story = "seed " + seed + " " + method + " " + table;
        System.out.println(story);
        Database source = new Database(Kind.DUCKDB, folder, "source");
        Database target = new Database(Kind.DUCKDB, folder, "target");
        table.create(source, table.source);
        table.create(target, table.target);
        Files.createDirectory(folder.resolve("new"));
        source.execute("COPY t TO '" + folder.resolve("t.parquet") + "' (FORMAT parquet)");
        target.execute("COPY (SELECT * FROM t WHERE random() < 2) TO '" + folder.resolve("new/t1.parquet")
                + "' (FORMAT parquet)");
        target.execute(
                "COPY (SELECT * FROM t WHERE 1 = 0) TO '" + folder.resolve("new/t2.parquet") + "' (FORMAT parquet)");
        Database other = new Database(Kind.POSTGRESQL, folder, "other");
        table.create(other, table.target);
        Tool tool = new Tool(folder);
        for (String to : List.of("parquet:" + folder + "/new/*.parquet#t", other.address() + "#t")) {
            List<String> command = new ArrayList<>(List.of("compare", "parquet:" + folder.resolve("t.parquet"), to));
            for (int c : table.key) {
                command.addAll(List.of("--key", table.columns.get(c)));
            }
            if (to.startsWith("parquet")) {
                command.addAll(List.of("--method", method));
            }
            Tool.Result result = tool.run(command.toArray(new String[0]));
            assertThat(result.code()).as(story + result.all()).isEqualTo(table.expected.isEmpty() ? 0 : 1);
            String found = tool.run("show", "--format", "jsonl").out();
            assertThat(new TreeMap<>(FilesTest.findings(found, table)))
                    .as(story + result.all())
                    .isEqualTo(new TreeMap<>(table.expected));
            Set<String> places = new TreeSet<>();
            for (String line : found.split("\n")) {
                if (line.contains("\"missing\"")) {
                    places.add(line.replaceFirst(".*\"at\":\\{\"source\":\"([^\"]*)\".*", "$1"));
                }
            }
            assertThat(places).as(story).allMatch(p -> p.matches("t[.]parquet:\\d+"));
        }
    }
}
