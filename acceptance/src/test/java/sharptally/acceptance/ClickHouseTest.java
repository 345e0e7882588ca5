package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.math.BigDecimal;
import java.net.ServerSocket;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
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
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Assumptions;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.EnabledIfSystemProperty;
import org.junit.jupiter.api.io.TempDir;

/** A real analytic server, an old one, through a driver of its time and the profile that this program brings. */
@EnabledIfSystemProperty(named = "sharptally.all", matches = "true")
class ClickHouseTest {
    private static final Path PROGRAM = Path.of("/usr/sbin/clickhouse-server");
    private static final Path DRIVER =
            Path.of(System.getProperty("user.home"), ".cache/sharp-tally/clickhouse-driver-0.2.6/jars");
    private static final int ROUNDS = 2;

    /** Not each table can be compared by each method; so many are tried until each was used. */
    private static final int MAX_ROUNDS = 12;

    private static final Set<String> METHODS = Set.of("stream", "checksum");

    /** Its reading of floating numbers in text is near, not exact, and its times begin in 1970. */
    private static final Set<RandomTable.Type> TYPES =
            Set.of(RandomTable.Type.INT, RandomTable.Type.DECIMAL, RandomTable.Type.TEXT, RandomTable.Type.CLOB);

    @TempDir
    Path folder;

    private final HttpClient client = HttpClient.newHttpClient();
    private Process server;
    private int port;

    private static int free() throws IOException {
        try (ServerSocket free = new ServerSocket(0)) {
            return free.getLocalPort();
        }
    }

    @BeforeEach
    void start() throws Exception {
        Assumptions.assumeTrue(Files.isExecutable(PROGRAM) && Files.isDirectory(DRIVER), "no ClickHouse is here");
        port = free();
        Files.writeString(folder.resolve("users.xml"), """
                <yandex><profiles><default/></profiles><quotas><default/></quotas>
                <users><default><password></password><networks><ip>127.0.0.1</ip></networks>
                <profile>default</profile><quota>default</quota></default></users></yandex>
                """);
        Files.writeString(folder.resolve("config.xml"), """
                <yandex><logger><level>warning</level><console>1</console></logger>
                <listen_host>127.0.0.1</listen_host><http_port>%d</http_port><tcp_port>%d</tcp_port>
                <path>%s/data/</path><tmp_path>%s/tmp/</tmp_path><mark_cache_size>100000000</mark_cache_size>
                <users_config>users.xml</users_config><default_profile>default</default_profile>
                <default_database>default</default_database></yandex>
                """.formatted(port, free(), folder, folder));
        server = new ProcessBuilder(PROGRAM.toString(), "--config-file=" + folder.resolve("config.xml"))
                .redirectErrorStream(true)
                .redirectOutput(folder.resolve("server.log").toFile())
                .start();
        for (int i = 0; i < 600; i++) {
            try {
                execute("SELECT 1");
                return;
            } catch (IOException notYet) {
                assertThat(server.isAlive())
                        .as(Files.readString(folder.resolve("server.log")))
                        .isTrue();
                Thread.sleep(100);
            }
        }
        throw new IllegalStateException(Files.readString(folder.resolve("server.log")));
    }

    @AfterEach
    void stop() {
        if (server != null) {
            server.destroyForcibly().onExit().join();
        }
    }

    private void execute(String sql) throws Exception {
        HttpResponse<String> answer = client.send(
                HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + port + "/"))
                        .POST(HttpRequest.BodyPublishers.ofString(sql))
                        .build(),
                HttpResponse.BodyHandlers.ofString());
        assertThat(answer.statusCode()).as(sql + "\n" + answer.body()).isEqualTo(200);
    }

    private static String quoted(String name) {
        return '`' + name.replace("\\", "\\\\").replace("`", "\\`") + '`';
    }

    private static String field(Object value) {
        return value == null
                ? "\\N"
                : value instanceof BigDecimal decimal
                        ? decimal.toPlainString()
                        : value.toString()
                                .replace("\\", "\\\\")
                                .replace("\t", "\\t")
                                .replace("\n", "\\n")
                                .replace("\r", "\\r");
    }

    private void create(String name, RandomTable table, List<Object[]> rows) throws Exception {
        String columns = IntStream.range(0, table.columns.size())
                .mapToObj(c -> {
                    String type = switch (table.types.get(c)) {
                        case INT -> "Int64";
                        case DECIMAL -> "Decimal(14, 4)";
                        default -> "String";
                    };
                    return quoted(table.columns.get(c)) + " "
                            + (table.key.contains(c) ? type : "Nullable(" + type + ")");
                })
                .collect(Collectors.joining(", "));
        execute("CREATE TABLE " + name + " (" + columns + ") ENGINE = MergeTree ORDER BY ("
                + table.key.stream().map(c -> quoted(table.columns.get(c))).collect(Collectors.joining(", ")) + ")");
        execute("INSERT INTO " + name + " FORMAT TabSeparated\n"
                + rows.stream()
                        .map(row -> Stream.of(row).map(ClickHouseTest::field).collect(Collectors.joining("\t")) + "\n")
                        .collect(Collectors.joining()));
    }

    private String address(String table) {
        return "jdbc:clickhouse://127.0.0.1:" + port + "/default?compress=false#" + table;
    }

    private static boolean fits(RandomTable table) {
        return !table.key.isEmpty()
                && table.columns.size() >= 3
                && TYPES.containsAll(table.types)
                && Stream.of(table.source, table.target)
                        .flatMap(List::stream)
                        .allMatch(row -> table.key.stream().allMatch(c -> row[c] != null));
    }

    @Test
    void theEditsAreFoundByEveryMethod() throws Exception {
        long seed = Seed.next();
        Set<String> used = new TreeSet<>();
        List<String> drivers = new ArrayList<>();
        try (Stream<Path> jars = Files.list(DRIVER)) {
            jars.forEach(jar -> drivers.addAll(List.of("--driver-jar", jar.toString())));
        }
        Random random = new Random(seed);
        for (int round = 0; round < ROUNDS || !used.containsAll(METHODS) && round < MAX_ROUNDS; round++) {
            RandomTable table = new RandomTable(random);
            while (!fits(table)) {
                table = new RandomTable(random);
            }
            String story = "seed " + seed + " round " + round + " " + table;
            System.out.println(story);
            Database target = new Database(Database.Kind.POSTGRESQL, folder, "target" + round);
            table.create(target, table.target);
            create("one" + round, table, table.source);
            create("two" + round, table, table.target);
            Tool tool = new Tool(folder);
            for (String other : List.of(address("two" + round), target.address() + "#t")) {
                for (String method : List.of("auto", "stream", "checksum")) {
                    List<String> command = new ArrayList<>(List.of("compare", address("one" + round), other));
                    for (int c : table.key) {
                        command.addAll(List.of("--key", table.columns.get(c)));
                    }
                    command.addAll(List.of("--method", method, "--range-rows", "60"));
                    command.addAll(drivers);
                    Tool.Result result = tool.run(command.toArray(String[]::new));
                    if (result.all().contains("can't compare by method")) {
                        continue;
                    }
                    assertThat(result.code()).as(story + command + result.all()).isLessThan(2);
                    try (Stream<Path> files = Files.list(tool.latestRun().resolve("findings"))) {
                        assertThat(FilesTest.findings(
                                        Files.readString(files.findFirst().orElseThrow()), table))
                                .as(story + command + result.all())
                                .isEqualTo(table.expected);
                    }
                    used.add(method);
                }
            }
        }
        assertThat(used).containsAll(METHODS);
    }
}
