package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.EnumSource;

/** Every method finds the same where databases would be more lenient than we are, by rules, and while rows change. */
@InTurn(3)
class MethodsTest {
    private static final List<String> METHODS = List.of("stream", "checksum", "joined", "auto");

    @TempDir
    Path folder;

    private List<String> findings(Tool tool, String... command) throws Exception {
        Tool.Result result = tool.run(command);
        assertThat(result.code()).as(result.all()).isLessThan(2);
        return tool.findings();
    }

    /** Those of one match of a job; none where there is no file of it. */
    private static List<String> findings(Tool tool, String match) throws Exception {
        Path file = tool.latestRun().resolve("findings/" + match + ".jsonl");
        return Files.exists(file) ? Files.readAllLines(file) : List.of();
    }

    /** Letters that end statements, texts and comments elsewhere are letters of a key like any other. */
    @ParameterizedTest
    @EnumSource
    void keysOfAnyLettersAreCutAndSought(Database.Kind kind) throws Exception {
        String[] letters = {";", "'", "--", "/*", "\\", "$$", "\"", "%", "#", "a;b", "\n", "*/", "\\'", "{}", "?"};
        Database source = new Database(kind, folder, "one");
        Database target = new Database(kind, folder, "two");
        boolean schemas = kind.like() == Database.Kind.POSTGRESQL;
        List<String> tables = List.of("gauge", schemas ? "moved.gauge" : "gauge");
        for (int side = 0; side < 2; side++) {
            Database database = side == 0 || schemas ? source : target;
            if (side == 1 && schemas) {
                database.execute("CREATE SCHEMA moved");
            }
            String collation = kind.like() == Database.Kind.MARIADB ? " COLLATE utf8mb4_bin" : "";
            database.execute("CREATE TABLE " + tables.get(side) + " (name VARCHAR(40)" + collation
                    + " PRIMARY KEY, level INTEGER)");
            try (var connection = database.connect();
                    var insert = connection.prepareStatement("INSERT INTO " + tables.get(side) + " VALUES (?, ?)")) {
                for (int i = 0; i < 600; i++) {
                    insert.setString(1, letters[i % letters.length] + i);
                    insert.setInt(2, side == 1 && i % 50 == 7 ? -i : i);
                    if (side == 0 || i % 100 != 13) {
                        insert.addBatch();
                    }
                }
                insert.executeBatch();
            }
        }
        String one = source.address() + "#" + (schemas ? "public.gauge" : "gauge");
        String other = (schemas ? source : target).address() + "#" + tables.get(1);
        Tool tool = new Tool(folder);
        List<String> plain = findings(tool, "compare", one, other, "--method", "stream");
        assertThat(plain).hasSize(18);
        List<String> used = new ArrayList<>();
        for (String method : METHODS) {
            Tool.Result result =
                    tool.run("compare", one, other, "--method", method, "--range-rows", "40", "--workers", "2");
            if (result.all().contains("can't compare by method")) {
                continue;
            }
            used.add(method);
            assertThat(result.code()).as(kind + " " + method + result.all()).isEqualTo(1);
            assertThat(tool.findings()).as(kind + " " + method).isEqualTo(plain);
        }
        if (source.isOnServer()) {
            assertThat(used).contains("checksum", "joined");
        }
    }

    @Test
    void keysThatTheDatabaseHoldsEqualAreTheirOwnRowsAllTheSame() throws Exception {
        String table = "CREATE TABLE gauge (code VARCHAR(20) COLLATE utf8mb4_general_ci PRIMARY KEY, name VARCHAR(40)"
                + " COLLATE utf8mb4_general_ci, level DECIMAL(8, 3))";
        Database source = new Database(Database.Kind.MARIADB, folder, "one");
        Database target = new Database(Database.Kind.MARIADB, folder, "two");
        source.execute(
                table,
                "INSERT INTO gauge VALUES ('tg01', 'Northquay', 1), ('TG02', 'Holm', 2.5), ('TG03', 'Sund', 3),"
                        + " ('TG04', 'Ness', NULL)");
        target.execute(
                table,
                "INSERT INTO gauge VALUES ('TG01', 'Northquay', 1), ('TG02', 'HOLM', 2.5), ('TG03', 'Sund ', 3),"
                        + " ('TG04', 'Ness', NULL)");
        Tool tool = new Tool(folder);
        List<String> plain = findings(tool, "compare", source.address(), target.address(), "--method", "stream");
        assertThat(plain).hasSize(4);
        for (String method : METHODS) {
            assertThat(findings(tool, "compare", source.address(), target.address(), "--method", method))
                    .as(method)
                    .isEqualTo(plain);
        }
    }

    /** A table whose key nothing holds, beside one that holds it: repeated, NULL, or both, in any range of the key. */
    @ParameterizedTest
    @EnumSource(
            value = Database.Kind.class,
            names = {"POSTGRESQL", "MARIADB", "SQLITE", "DUCKDB", "MYSQL"})
    void oneSideAloneHoldsTheKey(Database.Kind kind) throws Exception {
        Database source = new Database(kind, folder, "one");
        Database target = new Database(kind, folder, "two");
        boolean schemas = kind.like() == Database.Kind.POSTGRESQL;
        if (schemas) {
            source.execute("CREATE SCHEMA moved");
        }
        String rows = IntStream.range(0, 300)
                .mapToObj(i -> "(" + i + ", " + i % 9 + ")")
                .collect(Collectors.joining(", "));
        String[] odd = {
            "(150, " + 150 % 9 + ")", // as it is there already
            "(151, 77)",
            "(NULL, 1)",
            "(9000, 1), (9000, 1)",
            "(NULL, 1), (NULL, 2)",
            "(7, 7), (NULL, 3)"
        };
        Tool tool = new Tool(folder);
        int joined = 0;
        for (int i = 0; i < odd.length; i++) {
            String held = "gauge" + i;
            String loose = schemas ? "moved." + held : held;
            source.execute(
                    "CREATE TABLE " + held + " (id INTEGER PRIMARY KEY, level INTEGER)",
                    "INSERT INTO " + held + " VALUES " + rows,
                    "UPDATE " + held + " SET level = 50 WHERE id = 20");
            Database other = schemas ? source : target;
            other.execute(
                    "CREATE TABLE " + loose + " (id INTEGER, level INTEGER)",
                    "INSERT INTO " + loose + " VALUES " + rows,
                    "DELETE FROM " + loose + " WHERE id = 299",
                    "INSERT INTO " + loose + " VALUES " + odd[i]);
            String one = source.address() + "#" + (schemas ? "public." : "") + held;
            String two = other.address() + "#" + loose;
            for (List<String> sides : List.of(List.of(one, two), List.of(two, one))) {
                List<String> plain = List.of();
                for (String method : List.of("stream", "joined")) {
                    String[] command = {
                        "compare", sides.get(0), sides.get(1), "--key", "id", "--method", method, "--range-rows", "40"
                    };
                    Tool.Result result = tool.run(command);
                    String story = kind + " " + odd[i] + " " + method + result.all();
                    if (kind == Database.Kind.SQLITE && result.code() == 2) {
                        // A column that is not the row's number may hold anything.
                        assertThat(result.all()).as(story).contains("in several forms");
                        continue;
                    }
                    assertThat(result.code()).as(story).isEqualTo(1);
                    joined += method.equals("joined") && result.out().contains("joined") ? 1 : 0;
                    List<String> found = tool.findings();
                    assertThat(found).as(story).isNotEmpty();
                    assertThat(plain.isEmpty() ? found : plain).as(story).isEqualTo(found);
                    plain = found;
                }
            }
        }
        assertThat(joined).isPositive();
    }

    @ParameterizedTest
    @CsvSource({"POSTGRESQL, POSTGRESQL", "MARIADB, MARIADB", "POSTGRESQL, MARIADB"})
    void rulesAndConditionsHoldWhateverTheMethod(Database.Kind from, Database.Kind to) throws Exception {
        Database source = new Database(from, folder, "one");
        Database target = new Database(to, folder, "two");
        for (Database side : List.of(source, target)) {
            boolean first = side == source;
            String rows = IntStream.rangeClosed(1, 3_000)
                    .mapToObj(i -> "(" + i + ", '" + (first || i % 100 != 0 ? "Gauge " : "GAUGE ") + i + "', "
                            + (first || i % 150 != 0 ? i : i + 0.002) + ", '"
                            + (first ? "N" : i % 500 == 0 ? "South" : "North") + "')")
                    .reduce((a, b) -> a + ", " + b)
                    .orElseThrow();
            side.execute(
                    "CREATE TABLE gauge (id INT PRIMARY KEY, name VARCHAR(40), level DECIMAL(10, 3), region VARCHAR(9))",
                    "INSERT INTO gauge VALUES " + rows);
        }
        Files.writeString(folder.resolve("rules.yaml"), """
                job: 1
                source: "%s"
                target: "%s"
                matches:
                  - source: gauge
                    leave-out: [region]
                    where: {source: "id <> 150", target: "id <> 150"}
                    columns:
                      - {source: name, case: ignore}
                      - {source: level, within: 0.001}
                """.formatted(source.address(), target.address()));
        Tool tool = new Tool(folder);
        List<String> plain = findings(tool, "compare", "--job", "rules.yaml", "--method", "stream");
        assertThat(plain).hasSize(19);
        for (String method : METHODS) {
            Tool.Result result = tool.run("compare", "--job", "rules.yaml", "--method", method, "--range-rows", "700");
            if (result.all().contains("can't compare by method")) {
                assertThat(method).isEqualTo("joined");
                continue;
            }
            assertThat(result.out()).as(method).containsPattern("name +30  case\n");
            assertThat(findings(tool, "compare", "--job", "rules.yaml", "--method", method))
                    .as(method)
                    .isEqualTo(plain);
        }
        // What a rule translates is not what the databases hold: no method may look at that alone.
        Files.writeString(folder.resolve("translated.yaml"), """
                job: 1
                source: "%s"
                target: "%s"
                matches:
                  - source: gauge
                    leave-out: [name, level]
                    columns:
                      - {source: region, same-as: {N: North}}
                """.formatted(source.address(), target.address()));
        assertThat(findings(tool, "compare", "--job", "translated.yaml")).hasSize(6);
        assertThat(tool.run("compare", "--job", "translated.yaml", "--method", "checksum")
                        .all())
                .contains("a rule translates region");
    }

    /** Both sides of one server have the same names for other things, which users' own SQL reaches without a schema. */
    @ParameterizedTest
    @EnumSource(
            value = Database.Kind.class,
            names = {"POSTGRESQL", "MARIADB", "SQLITE", "DUCKDB", "MYSQL"})
    void sqlOfTheUsersOwnMeansWhatItMeansOnItsOwnSide(Database.Kind kind) throws Exception {
        boolean schemas = kind == Database.Kind.POSTGRESQL;
        Database source = new Database(kind, folder, "one");
        Database target = schemas ? source : new Database(kind, folder, "two");
        String shown = schemas
                ? "CREATE FUNCTION %sshown(int) RETURNS int LANGUAGE sql AS 'SELECT CASE WHEN $1 = %d THEN 0 ELSE 1 END'"
                : "CREATE FUNCTION %sshown(n INT) RETURNS INT DETERMINISTIC RETURN n <> %d";
        String numbers = IntStream.range(0, 400).mapToObj(i -> "(" + i + ")").collect(Collectors.joining(", "));
        List<String> addresses = new ArrayList<>();
        List<String> roles = new ArrayList<>();
        for (int side = 0; side < 2; side++) {
            Database database = side == 0 ? source : target;
            String in = schemas ? "side" + side + "." : "";
            database.execute(
                    schemas ? "CREATE SCHEMA side" + side : "SELECT 1",
                    "CREATE TABLE " + in + "number (id INTEGER PRIMARY KEY)",
                    "INSERT INTO " + in + "number VALUES " + numbers,
                    "CREATE TABLE " + in + "gauge (id INTEGER PRIMARY KEY, level INTEGER NOT NULL)",
                    "INSERT INTO " + in + "gauge SELECT id, CASE WHEN id % 40 = 7 THEN id + " + side
                            + " ELSE id END FROM " + in + "number",
                    "CREATE TABLE " + in + "closed (id INTEGER PRIMARY KEY)",
                    "INSERT INTO " + in + "closed SELECT id FROM " + in + "number WHERE id % 50 = " + side,
                    "CREATE VIEW " + in + "open_gauge AS SELECT * FROM " + in + "gauge WHERE id NOT IN"
                            + " (SELECT id FROM " + in + "closed)");
            if (schemas) {
                String role = "side" + side + "_" + Integer.toHexString(folder.hashCode());
                database.execute(
                        "CREATE ROLE " + role + " SUPERUSER LOGIN",
                        "ALTER ROLE " + role + " SET search_path = side" + side);
                roles.add(role);
            }
            addresses.add(
                    schemas
                            ? database.address().replaceFirst("//[^@]*@", "//" + roles.get(side) + "@") + "?schema=side"
                                    + side
                            : database.address());
        }
        List<String> matches = new ArrayList<>(List.of(
                "source: gauge, target: {query: SELECT * FROM gauge}",
                "source: {query: SELECT * FROM gauge}, target: {query: 'SELECT id + 0 AS id, level FROM gauge'}",
                "source: gauge, target: gauge, where: {source: level > 5, target: level > 5}",
                "source: open_gauge, target: open_gauge",
                "source: gauge, target: gauge, where: {target: id NOT IN (SELECT id FROM closed)}",
                "source: gauge, target: gauge, columns: [{source: level, target: level,"
                        + " read: {source: level + (SELECT MIN(id) FROM closed)}}]"));
        // The MySQL of the tests has no table to keep functions in.
        if (source.isOnServer() && kind != Database.Kind.MYSQL) {
            matches.add("source: gauge, target: gauge, where: {source: shown(id) = 1, target: shown(id) = 1}");
        }
        Tool tool = new Tool(folder);
        int joined = byEveryMethod(tool, addresses, matches.subList(0, 6));
        if (matches.size() > 6) {
            // Where there is none, a condition can't reach one.
            source.execute(shown.formatted(schemas ? "side0." : "", 90));
            target.execute(shown.formatted(schemas ? "side1." : "", 91));
            joined += byEveryMethod(tool, addresses, matches.subList(6, 7));
        }
        // Conditions without names; of its functions MySQL tells nothing here.
        assertThat(joined).isEqualTo(kind == Database.Kind.MARIADB ? 1 : 0);
    }

    /** Every method finds what reading finds; how many were joined. */
    private int byEveryMethod(Tool tool, List<String> addresses, List<String> matches) throws Exception {
        Files.writeString(
                folder.resolve("own.yaml"),
                IntStream.range(0, matches.size())
                        .mapToObj(i -> "  - {name: m" + i + ", key: [id], " + matches.get(i) + "}\n")
                        .collect(Collectors.joining(
                                "",
                                "job: 1\nsource: \"" + addresses.get(0) + "\"\ntarget: \"" + addresses.get(1)
                                        + "\"\nmatches:\n",
                                "")));
        Map<String, List<String>> plain = new TreeMap<>();
        int joined = 0;
        for (String method : List.of("stream", "joined", "auto")) {
            Tool.Result result = tool.run("compare", "--job", "own.yaml", "--method", method, "--range-rows", "70");
            assertThat(result.code()).as(result.all()).isEqualTo(method.equals("joined") ? 2 : 1);
            for (int i = 0; i < matches.size(); i++) {
                String name = "m" + i;
                if (method.equals("joined")
                        && Pattern.compile("not finished: (m\\d, )*" + name + "[,:]")
                                .matcher(result.all())
                                .find()) {
                    continue;
                }
                joined += method.equals("joined") ? 1 : 0;
                List<String> found = findings(tool, name);
                plain.putIfAbsent(name, found);
                assertThat(found)
                        .as(matches.get(i) + " " + method + result.all())
                        .hasSizeGreaterThan(8)
                        .isEqualTo(plain.get(name));
            }
        }
        return joined;
    }

    @Test
    void rowsThatChangeMeanwhileNeverMakeOthersDiffer() throws Exception {
        Database source = new Database(Database.Kind.POSTGRESQL, folder, "one");
        Database target = new Database(Database.Kind.POSTGRESQL, folder, "two");
        for (Database side : List.of(source, target)) {
            side.execute(
                    "CREATE TABLE gauge (id INT PRIMARY KEY, level DOUBLE PRECISION)",
                    "INSERT INTO gauge SELECT i, i / 7.0 FROM generate_series(1, 30000) i",
                    "ANALYZE gauge");
        }
        target.execute("UPDATE gauge SET level = -1 WHERE id % 5000 = 77");
        AtomicBoolean done = new AtomicBoolean();
        // Connected before any command begins, which may leave no connection behind.
        var connection = target.connect();
        Thread writer = new Thread(() -> {
            try (connection;
                    var statement = connection.createStatement()) {
                for (int i = 0; !done.get(); i++) {
                    int id = 10_000 + i % 1_000;
                    statement.execute("DELETE FROM gauge WHERE id = " + id);
                    statement.execute("INSERT INTO gauge VALUES (" + id + ", " + i + ")");
                }
            } catch (java.sql.SQLException e) {
                throw new IllegalStateException(e);
            }
        });
        writer.start();
        try {
            Tool tool = new Tool(folder);
            for (String method : List.of("stream", "checksum")) {
                List<String> stable = findings(
                                tool,
                                "compare",
                                source.address(),
                                target.address(),
                                "--method",
                                method,
                                "--range-rows",
                                "4000",
                                "--no-snapshot")
                        .stream()
                        .filter(line -> !line.matches(".*\"key\":\\{\"id\":10\\d\\d\\d\\}.*"))
                        .toList();
                assertThat(stable).as(method).hasSize(5).allMatch(line -> line.contains("\"changed\""));
            }
        } finally {
            done.set(true);
            writer.join();
        }
    }

    /** Where rows differ is told between the first and the last key of both sides, by whichever method it was found. */
    @ParameterizedTest
    @EnumSource(
            value = Database.Kind.class,
            names = {"POSTGRESQL", "MARIADB", "SQLITE"})
    void endsOfTheKeyRangeAreThoseOfBothSides(Database.Kind kind) throws Exception {
        Database source = new Database(kind, folder, "src");
        Database target = new Database(kind, folder, "tgt");
        List<String> rows = IntStream.range(0, 3000)
                .mapToObj(i -> "(" + i / 7 + ", " + i + ", " + i + ")")
                .toList();
        for (Database side : List.of(source, target)) {
            side.execute(
                    "CREATE TABLE log (a INTEGER NOT NULL, b INTEGER NOT NULL, v INTEGER, PRIMARY KEY (a, b))",
                    "INSERT INTO log VALUES " + String.join(", ", rows));
        }
        source.execute("DELETE FROM log WHERE a > 420");
        target.execute("DELETE FROM log WHERE a < 3", "INSERT INTO log VALUES (-5, 8, 1), (90000, 1, 2)");
        Tool tool = new Tool(folder);
        Set<List<String>> ends = new HashSet<>();
        for (String method :
                kind == Database.Kind.SQLITE ? List.of("stream", "joined") : List.of("stream", "checksum", "joined")) {
            Tool.Result compared = tool.run(
                    "compare",
                    source.address() + "#log",
                    target.address() + "#log",
                    "--method",
                    method,
                    "--range-rows",
                    "500",
                    "--format",
                    "json");
            if (method.equals("joined") && compared.code() == 2) {
                continue; // two databases that can't be joined
            }
            assertThat(compared.code()).as(compared.all()).isEqualTo(1);
            JsonNode cells = compared.json().at("/run/matches/0/damage");
            JsonNode first = cells.get(0);
            JsonNode last = cells.get(cells.size() - 1);
            ends.add(List.of(first.get("from").toString(), last.get("from").toString()));
            assertThat(last.get("rows").asInt()).isZero();
            assertThat(tool.run("show", "--view", "ranges").out()).contains("-5,8", "90000,1");
            assertThat(tool.run("recheck").code()).isEqualTo(1);
        }
        assertThat(ends).containsExactly(List.of("[-5,8]", "[90000,1]"));
    }

    /**
     * Where most slices differ, rows are read instead, which a few slices tell beforehand: wherever the damage lies, the
     * findings are those of reading.
     */
    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "bigint  | i               | true                | stream",
                "bigint  | i               | i > 150000          | checksum",
                "bigint  | i               | i < 1000            | checksum",
                "bigint  | i * 1000 - 7    | i % 2 = 0           | stream",
                "bigint  | -9223372036854775807 + i * 50000000000000 | i % 7 = 0 | stream",
                "bigint  | 9223372036854775807 - i | i = 5       | checksum",
                "integer | i - 100000      | i BETWEEN 1 AND 120000 | stream",
                "text    | md5(i::text)    | i % 100 = 3         | stream",
                "text    | md5(i::text)    | i % 50000 = 3       | checksum",
                "uuid    | md5(i::text)::uuid | i % 20 = 3       | stream",
                "uuid    | md5(i::text)::uuid | false            | checksum"
            })
    void damageIsFoundWhereverItLies(String type, String key, String damage, String used) throws Exception {
        Database source = new Database(Database.Kind.POSTGRESQL, folder, "one");
        Database target = new Database(Database.Kind.POSTGRESQL, folder, "two");
        for (Database side : List.of(source, target)) {
            boolean damaged = side == target;
            side.execute(
                    "CREATE TABLE reading (id " + type + (type.equals("text") ? " COLLATE \"C\"" : "")
                            + " PRIMARY KEY, level int, remark text)",
                    "INSERT INTO reading SELECT " + key
                            + ", i % 400, 'log ' || i FROM generate_series(1::bigint, 160000) i"
                            + (damaged ? " WHERE NOT (" + damage + ") OR i % 3 > 0" : ""));
            if (damaged) {
                side.execute("UPDATE reading SET level = level + 1 WHERE id IN (SELECT " + key
                        + " FROM generate_series(1::bigint, 160000) i WHERE i % 3 = 1 AND (" + damage + "))");
            }
            side.execute("ANALYZE reading");
        }
        Tool tool = new Tool(folder);
        List<String> plain = findings(tool, "compare", source.address(), target.address(), "--method", "stream");
        for (String[] more : List.of(
                new String[] {"--method", "auto"},
                new String[] {"--method", "checksum", "--range-rows", "80000", "--workers", "2"})) {
            List<String> command = new ArrayList<>(List.of("compare", source.address(), target.address()));
            command.addAll(List.of(more));
            assertThat(findings(tool, command.toArray(String[]::new)))
                    .as(String.join(" ", more))
                    .isEqualTo(plain);
            if (more[1].equals("auto")) {
                assertThat(Files.readString(tool.latestRun().resolve("run.json")))
                        .contains("\"method\" : \"" + used + "\"");
            }
        }
    }
}
