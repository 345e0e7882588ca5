package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.TreeSet;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** An engine that this program knows by a user's own profile alone: a real server, by a driver that is not ours. */
@InTurn(1)
class ProfileTest {
    private static final int ROUNDS = 2;

    /** Not each table can be compared by each method; so many are tried until each was used. */
    private static final int MAX_ROUNDS = 12;

    private static final Set<String> METHODS = Set.of("stream", "joined", "checksum");

    @TempDir
    Path folder;

    @TempDir
    Path configuration;

    private Tool tool;

    @BeforeEach
    void putTheProfileDown() throws Exception {
        Path profiles = Files.createDirectories(configuration.resolve("sharp-tally/profiles"));
        try (var in = getClass().getResourceAsStream("/profiles/relative.yaml")) {
            Files.copy(in, profiles.resolve("relative.yaml"));
        }
        tool = new Tool(folder);
    }

    private Tool.Result run(List<String> arguments) throws Exception {
        Path driver = Path.of(com.impossibl.postgres.jdbc.PGDriver.class
                .getProtectionDomain()
                .getCodeSource()
                .getLocation()
                .toURI());
        List<String> all = new ArrayList<>(arguments);
        all.addAll(List.of("--driver-jar", driver.toString(), "--allow-jdbc"));
        return tool.with(Map.of("XDG_CONFIG_HOME", configuration.toString()), all.toArray(String[]::new));
    }

    /** The connections of the profile's engine, by name: its users stand there. */
    private void connections(Database... databases) throws Exception {
        StringBuilder text = new StringBuilder("connections:\n");
        for (int i = 0; i < databases.length; i++) {
            String[] parts = databases[i].address().replace("postgresql://", "").split("@");
            text.append("  c" + i + ": {address: \"jdbc:pgsql://" + parts[1] + "\", user: " + parts[0]
                    + ", password: {env: PATH}}\n");
        }
        Files.writeString(configuration.resolve("sharp-tally/connections.yaml"), text);
    }

    private List<String> command(String source, String target, RandomTable table, String method) {
        List<String> command = new ArrayList<>(List.of("compare", source, target, "--range-rows", "60"));
        table.key.forEach(c -> command.addAll(List.of("--key", table.columns.get(c))));
        command.addAll(List.of("--method", method));
        return command;
    }

    private void found(RandomTable table, String story) throws Exception {
        try (Stream<Path> files = Files.list(tool.latestRun().resolve("findings"))) {
            assertThat(FilesTest.findings(Files.readString(files.findFirst().orElseThrow()), table))
                    .as(story)
                    .isEqualTo(table.expected);
        }
    }

    /** By every method, beside itself and another engine; then what was found is changed through it, and nothing is left. */
    @Test
    void theEditsAreFoundAndMended() throws Exception {
        long seed = Seed.next();
        Set<String> used = new TreeSet<>();
        for (int round = 0; round < ROUNDS || !used.containsAll(METHODS) && round < MAX_ROUNDS; round++) {
            Random random = new Random(seed + round);
            RandomTable table = new RandomTable(random);
            while (table.key.isEmpty() || !table.declaredKey) {
                table = new RandomTable(random);
            }
            String story = "seed " + (seed + round) + " " + table;
            System.out.println(story);
            Database one = new Database(Database.Kind.POSTGRESQL, folder, "one" + round);
            Database two = new Database(Database.Kind.MARIADB, folder, "two" + round);
            table.create(one, table.source);
            one.execute("ALTER TABLE t RENAME TO s");
            table.create(one, table.target);
            table.create(two, table.source);
            connections(one);
            for (String source : List.of("@c0#s", two.address() + "#t")) {
                for (String method : List.of("auto", "stream", "checksum", "joined")) {
                    Tool.Result result = run(command(source, "@c0#t", table, method));
                    if (result.all().contains("can't compare by method")) {
                        continue;
                    }
                    assertThat(result.code())
                            .as(story + source + method + result.all())
                            .isLessThan(2);
                    found(table, story + source + method + result.all());
                    used.add(method);
                }
            }
            assertThat(run(command("@c0#s", "@c0#t", table, "stream")).code())
                    .isEqualTo(table.expected.isEmpty() ? 0 : 1);
            Tool.Result applied = run(List.of("apply", "--yes"));
            assertThat(applied.code()).as(story + applied.all()).isZero();
            Tool.Result again = run(command("@c0#s", "@c0#t", table, "stream"));
            assertThat(again.code()).as(story + again.all()).isZero();
        }
        assertThat(used).containsAll(METHODS);
    }

    /** A probe says that a profile is exact, and of one that is not, what it loses. */
    @Test
    void aProbeProvesAProfile() throws Exception {
        Database one = new Database(Database.Kind.POSTGRESQL, folder, "one");
        one.execute("CREATE SCHEMA scratch");
        connections(one);
        Path file = configuration.resolve("sharp-tally/profiles/relative.yaml");
        String good = Files.readString(file);
        List<String> probe = List.of("survey", "--probe", "@c0", "--scratch-schema", "scratch");
        Tool.Result exact = run(probe);
        assertThat(exact.code()).as(exact.all()).isZero();
        Map<String, String> faults = Map.of(
                "{one} IS DISTINCT FROM {other}", "{one} <> {other}",
                "read: \"to_char({column}, 'YYYY-MM-DD HH24:MI:SS.US')\"",
                        "read: \"to_char({column}, 'YYYY-MM-DD HH24:MI:SS')\"");
        String bad = good;
        for (Map.Entry<String, String> fault : faults.entrySet()) {
            assertThat(bad).contains(fault.getKey());
            bad = bad.replace(fault.getKey(), fault.getValue());
        }
        Files.writeString(file, bad);
        Tool.Result wrong = run(probe);
        assertThat(wrong.code()).as(wrong.all()).isEqualTo(1);
        assertThat(wrong.out())
                .contains("not exact")
                .contains("INTEGER: joined: 0 and NULL are not told apart")
                .containsPattern("TIMESTAMP: stream: .* are not told apart");
        assertThat(one.values("SELECT count(*) FROM pg_tables WHERE schemaname = 'scratch'"))
                .containsExactly("0");
    }

    /** Each profile that the program brings can be read, by each address that the docs name. */
    @Test
    void ourOwnProfilesAreRead() throws Exception {
        List<String> rows = Files.readAllLines(Path.of("../docs/profiles.md")).stream()
                .filter(line -> line.startsWith("| `") && line.contains("`jdbc:"))
                .toList();
        assertThat(rows).hasSize(8);
        Path ours = Path.of("../engines/src/main/resources/sharptally/engines/any/profiles");
        for (String row : rows) {
            List<String> words = Pattern.compile("`([a-z0-9:]+)`")
                    .matcher(row)
                    .results()
                    .map(word -> word.group(1))
                    .toList();
            String text = Files.readString(ours.resolve(words.get(0) + ".yaml"));
            List<String> addresses = words.stream()
                    .filter(word -> word.startsWith("jdbc:"))
                    .map(word -> word.substring("jdbc:".length()))
                    .toList();
            assertThat(text)
                    .contains("addresses: "
                            + addresses.stream().map(a -> '"' + a + '"').toList());
            // What was not run says so, and its checksums and joins are off.
            assertThat(text.contains("not run")).isEqualTo(row.contains("not run"));
            assertThat(text.contains("proved: true")).isEqualTo(row.contains("**run**"));
            for (String address : addresses) {
                Tool.Result none = tool.run("survey", "jdbc:" + address + "//127.0.0.1:1/none");
                assertThat(none.code()).as(none.all()).isEqualTo(3);
                assertThat(none.err()).contains("no JDBC driver takes this address");
            }
        }
        try (Stream<Path> files = Files.list(ours)) {
            assertThat(files.count()).isEqualTo(rows.size());
        }
    }

    /** What is wrong with a profile is told before anything is opened. */
    @Test
    void aBrokenProfileIsRefused() throws Exception {
        Path file = configuration.resolve("sharp-tally/profiles/relative.yaml");
        String good = Files.readString(file);
        List<List<String>> broken = List.of(
                List.of("nulls-first:", "nulls-last:", "no such key in a profile: nulls-last"),
                List.of("timestamp(6)", "moment(6)", "no such kind of value: moment(6)"),
                List.of("found: index", "found: guess", "no such way to find rows: guess"),
                List.of("together: from", "together: maybe", "no such way to change many rows: maybe"),
                List.of("timestamp.*", "timestamp(", "not a pattern of type names"),
                List.of(
                        "read: \"to_char({column}",
                        "read: \"to_char({value}",
                        "no such word in a profile: {value} in read"),
                List.of("proof:", "# proof:", "not there, or not as it should be: proof"),
                List.of("  hash:", "  # hash:", "not there, or not as it should be: checksums"),
                List.of("{hash} & {mask}", "{hash} & {mark}", "no such word in a profile: {mark} in masked"));
        Files.setPosixFilePermissions(file, PosixFilePermissions.fromString("rw-rw-r--"));
        Tool.Result open = run(List.of("survey", "jdbc:pgsql://127.0.0.1:1/none"));
        assertThat(open.code()).as(open.all()).isEqualTo(4);
        assertThat(open.err()).contains("somebody else may write this profile").contains("relative.yaml");
        Files.setPosixFilePermissions(file, PosixFilePermissions.fromString("rw-r--r--"));
        for (List<String> each : broken) {
            Files.writeString(file, good.replaceFirst(java.util.regex.Pattern.quote(each.get(0)), each.get(1)));
            Tool.Result result = run(List.of("survey", "jdbc:pgsql://127.0.0.1:1/none"));
            assertThat(result.code()).as(each + result.all()).isEqualTo(2);
            assertThat(result.err())
                    .contains(each.get(2))
                    .contains("relative.yaml")
                    .contains("docs/profiles.md");
        }
    }
}
