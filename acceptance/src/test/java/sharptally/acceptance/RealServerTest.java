package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.URL;
import java.net.URLClassLoader;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.Driver;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Properties;
import java.util.Random;
import java.util.ServiceLoader;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/**
 * Random tables on a server that somebody else brings, of an engine that can't be had here: found, changed and taken back in every
 * way. It is told by {@code SHARP_TALLY_TEST_SQLSERVER} or {@code …_ORACLE}, as {@code user@host:port/database}, with
 * {@code …_PASSWORD}, and for the latter {@code …_DRIVER}, its driver's file. A PostgreSQL goes the same way, so that this test is one.
 */
@InTurn(0)
class RealServerTest {
    private static final int ROUNDS = 2;
    private static final int MAX_ROUNDS = 12;
    private static final Set<String> METHODS = Set.of("stream", "checksum", "joined");

    @TempDir
    Path folder;

    @TempDir
    Path configuration;

    /**
     * @param types by {@link RandomTable.Type}
     * @param keyText of a text in a key
     * @param dates whether its dates are without a time
     * @param apart what its own client takes for the end of a part of a script
     */
    private record Server(
            String engine,
            String url,
            String where,
            Optional<String> password,
            Optional<String> driver,
            List<String> types,
            String keyText,
            boolean padsKeys,
            boolean holdsEmpty,
            boolean dates,
            String apart) {
        @Override
        public String toString() {
            return engine;
        }

        String user() {
            return where.substring(0, where.indexOf('@'));
        }

        String address() {
            return engine + "://" + where;
        }

        Connection connect() throws Exception {
            Properties properties = new Properties();
            properties.setProperty("user", user());
            password.ifPresent(word -> properties.setProperty("password", word));
            ClassLoader loader = driver.isEmpty()
                    ? RealServerTest.class.getClassLoader()
                    : new URLClassLoader(
                            new URL[] {Path.of(driver.get()).toUri().toURL()});
            String address = url.formatted(
                    (Object[]) where.substring(where.indexOf('@') + 1).split("/"));
            for (Driver each : ServiceLoader.load(Driver.class, loader)) {
                if (each.acceptsURL(address)) {
                    return each.connect(address, properties);
                }
            }
            throw new SQLException("no driver for " + address);
        }
    }

    private static Stream<Server> told(String engine, Server server) {
        return Optional.ofNullable(System.getenv("SHARP_TALLY_TEST_" + engine)).isPresent()
                ? Stream.of(server)
                : Stream.empty();
    }

    private static Optional<String> variable(String name) {
        return Optional.ofNullable(System.getenv("SHARP_TALLY_TEST_" + name));
    }

    static Stream<Server> servers() {
        Server postgres = new Server(
                "postgresql",
                "jdbc:postgresql://%s/%s",
                Servers.postgres() + "/postgres",
                Optional.empty(),
                Optional.empty(),
                Stream.of(RandomTable.Type.values())
                        .map(type -> type.declared.get(Database.Kind.POSTGRESQL.ordinal()))
                        .toList(),
                "varchar(200)",
                false,
                true,
                true,
                "a line that is not there");
        Server sqlServer = new Server(
                "sqlserver",
                "jdbc:sqlserver://%s;databaseName=%s;trustServerCertificate=true",
                variable("SQLSERVER").orElse(""),
                variable("SQLSERVER_PASSWORD"),
                Optional.empty(),
                List.of(
                        "bigint",
                        "decimal(14, 4)",
                        "float",
                        "nvarchar(200)",
                        "nvarchar(max)",
                        "varbinary(100)",
                        "date",
                        "datetime2(6)",
                        "bit"),
                "nvarchar(200) COLLATE Latin1_General_100_BIN2",
                true,
                true,
                true,
                "GO");
        Server oracle = new Server(
                "oracle",
                "jdbc:oracle:thin:@//%s/%s",
                variable("ORACLE").orElse(""),
                variable("ORACLE_PASSWORD"),
                variable("ORACLE_DRIVER"),
                List.of(
                        "NUMBER(19)",
                        "NUMBER(14, 4)",
                        "BINARY_DOUBLE",
                        "VARCHAR2(200 CHAR)",
                        "CLOB",
                        "RAW(100)",
                        "DATE",
                        "TIMESTAMP(6)",
                        "NUMBER(1)"),
                "VARCHAR2(200 CHAR)",
                false,
                false,
                false,
                "/");
        return Stream.of(Stream.of(postgres), told("SQLSERVER", sqlServer), told("ORACLE", oracle))
                .flatMap(s -> s);
    }

    private static String quoted(String name) {
        return '"' + name.replace("\"", "\"\"") + '"';
    }

    private static void create(
            Connection connection, Server server, String name, RandomTable table, List<Object[]> rows)
            throws SQLException {
        String columns = IntStream.range(0, table.columns.size())
                .mapToObj(c -> quoted(table.columns.get(c)) + " "
                        + (table.key.contains(c) && table.types.get(c) == RandomTable.Type.TEXT
                                ? server.keyText
                                : server.types.get(table.types.get(c).ordinal()))
                        + (table.key.contains(c) ? " NOT NULL" : ""))
                .collect(Collectors.joining(", "));
        String key = table.key.stream().map(c -> quoted(table.columns.get(c))).collect(Collectors.joining(", "));
        try (Statement statement = connection.createStatement()) {
            statement.execute("CREATE TABLE " + quoted(name) + " (" + columns
                    + (table.declaredKey ? ", PRIMARY KEY (" + key + ")" : "") + ")");
        }
        try (PreparedStatement insert = connection.prepareStatement(
                "INSERT INTO " + quoted(name) + " VALUES (" + "?, ".repeat(table.columns.size() - 1) + "?)")) {
            for (Object[] row : rows) {
                for (int c = 0; c < row.length; c++) {
                    if (row[c] == null && table.types.get(c) == RandomTable.Type.BYTES) {
                        insert.setBytes(c + 1, null);
                    } else {
                        insert.setObject(c + 1, row[c] instanceof Boolean b && !server.dates ? b ? 1 : 0 : row[c]);
                    }
                }
                insert.executeUpdate();
            }
        }
    }

    private static void drop(Connection connection, String... names) {
        for (String name : names) {
            try (Statement statement = connection.createStatement()) {
                statement.execute("DROP TABLE " + quoted(name));
            } catch (SQLException e) {
                // It is not there.
            }
        }
    }

    /** As its own client runs it, but without the words of that. */
    private static Optional<String> run(Server server, Path script) throws Exception {
        String bare = Files.readString(script)
                .replaceAll(" \\\\gset.*", ";")
                .replaceAll("(?m)^(?:--|:|WHENEVER |SET EXITCOMMIT|SET DEFINE|SET SQLBLANK|\\\\).*\n", "");
        List<String> parts = server.engine.equals("oracle")
                ? Stream.of(bare.split("(?m)^/\n|(?<=;\n)(?=BEGIN\n|DECLARE\n)"))
                        .flatMap(part -> part.startsWith("BEGIN\n") || part.startsWith("DECLARE\n")
                                ? Stream.of(part)
                                : Stream.of(part.split(";\n")))
                        .toList()
                : List.of(bare.split("(?m)^" + server.apart + "\n"));
        try (Connection connection = server.connect();
                Statement statement = connection.createStatement()) {
            for (String part : parts) {
                if (!part.isBlank()) {
                    statement.execute(part.strip());
                    while (statement.getMoreResults() || statement.getUpdateCount() >= 0) {
                        // An error may stand behind what came before it.
                    }
                }
            }
            return Optional.empty();
        } catch (SQLException e) {
            return Optional.of(String.valueOf(e.getMessage()));
        }
    }

    private Tool.Result tool(Server server, Tool tool, List<String> arguments) throws Exception {
        List<String> all = new ArrayList<>(arguments);
        server.driver.ifPresent(jar -> all.addAll(List.of("--driver-jar", jar)));
        return tool.with(
                Map.of(
                        "XDG_CONFIG_HOME",
                        configuration.toString(),
                        "SHARP_TALLY_TEST_PASSWORD",
                        server.password.orElse("none")),
                all.toArray(String[]::new));
    }

    private static List<String> command(String source, String target, RandomTable table, String method) {
        List<String> command =
                new ArrayList<>(List.of("compare", source, target, "--range-rows", "60", "--method", method));
        table.key.forEach(c -> command.addAll(List.of("--key", table.columns.get(c))));
        return command;
    }

    @ParameterizedTest
    @MethodSource("servers")
    void theEditsAreFoundMadeAndTakenBack(Server server) throws Exception {
        long seed = Seed.next();
        Files.createDirectories(configuration.resolve("sharp-tally"));
        Files.writeString(
                configuration.resolve("sharp-tally/connections.yaml"),
                "connections:\n  server: {address: \"" + server.address()
                        + "\", password: {env: SHARP_TALLY_TEST_PASSWORD}}\n");
        Set<String> used = new TreeSet<>();
        Tool tool = new Tool(folder);
        for (int round = 0; round < ROUNDS || !used.containsAll(METHODS) && round < MAX_ROUNDS; round++) {
            Random random = new Random(seed + round);
            RandomTable table = new RandomTable(random, server.padsKeys, server.holdsEmpty);
            while (table.key.isEmpty()
                    || table.expected.size() < 3
                    || !server.dates && table.types.contains(RandomTable.Type.DATE)) {
                table = new RandomTable(random, server.padsKeys, server.holdsEmpty);
            }
            String story = "seed " + (seed + round) + " " + server + " " + table;
            System.out.println(story);
            String mark = Long.toHexString(seed + round);
            String source = "st_s" + mark;
            String target = "st_t" + mark;
            String was = "st_w" + mark;
            Database other = new Database(Database.Kind.SQLITE, folder, "other" + round);
            table.create(other, table.source);
            try (Connection connection = server.connect()) {
                try {
                    create(connection, server, source, table, table.source);
                    create(connection, server, target, table, table.target);
                    create(connection, server, was, table, table.target);
                    for (String from : List.of("@server#" + source, other.address() + "#t")) {
                        for (String method : List.of("auto", "stream", "checksum", "joined")) {
                            List<String> command = command(from, "@server#" + target, table, method);
                            Tool.Result result = tool(server, tool, command);
                            if (result.all().contains("can't compare by method")) {
                                continue;
                            }
                            assertThat(result.code())
                                    .as(story + command + result.all())
                                    .isEqualTo(1);
                            try (Stream<Path> files =
                                    Files.list(tool.latestRun().resolve("findings"))) {
                                assertThat(FilesTest.findings(
                                                Files.readString(
                                                        files.findFirst().orElseThrow()),
                                                table))
                                        .as(story + command + result.all())
                                        .isEqualTo(table.expected);
                            }
                            used.add(method);
                        }
                    }
                    for (String style : List.of("apply", "row", "batch", "merge")) {
                        mend(server, tool, story + style, style, table, List.of(source, target, was));
                    }
                } finally {
                    drop(connection, source, target, was);
                }
            }
        }
        assertThat(used).containsAll(METHODS);
    }

    /** Made once, not twice, and taken back; and not begun where a row moved on. */
    private void mend(Server server, Tool tool, String story, String style, RandomTable table, List<String> names)
            throws Exception {
        List<String> compare = command("@server#" + names.get(0), "@server#" + names.get(1), table, "stream");
        List<String> unchanged = command("@server#" + names.get(2), "@server#" + names.get(1), table, "stream");
        assertThat(tool(server, tool, compare).code()).as(story).isEqualTo(1);
        Path run = tool.latestRun();
        boolean apply = style.equals("apply");
        Tool.Result made = tool(
                server,
                tool,
                apply
                        ? List.of("apply", run.toString(), "--yes")
                        : List.of("script", run.toString(), "--style", style));
        assertThat(made.code()).as(story + made.all()).isZero();
        if (!apply) {
            assertThat(run(server, run.resolve("script.sql"))).as(story).isEmpty();
            // Without a key that its table declares, a script says that it can't tell whether it ran before.
            Optional<String> again = run(server, run.resolve("script.sql"));
            assertThat(again.isEmpty() || !table.declaredKey).as(story + again).isTrue();
        }
        Tool.Result same = tool(server, tool, compare);
        assertThat(same.code()).as(story + same.all()).isZero();
        Path undo;
        try (Stream<Path> files = Files.list(run)) {
            undo = files.filter(f -> f.getFileName().toString().contains("undo"))
                    .findFirst()
                    .orElseThrow();
        }
        assertThat(run(server, undo)).as(story + " undo").isEmpty();
        Tool.Result back = tool(server, tool, unchanged);
        assertThat(back.code()).as(story + back.all()).isZero();
        // The rows are as they were, which the undo does not expect any more.
        if (!apply) {
            return;
        }
        try (Connection connection = server.connect();
                Statement statement = connection.createStatement()) {
            statement.execute("DELETE FROM " + quoted(names.get(1)));
        }
        Tool.Result refused = tool(server, tool, List.of("apply", run.toString(), "--yes"));
        try (Connection connection = server.connect();
                Statement statement = connection.createStatement()) {
            assertThat(table.expected.keySet().stream().anyMatch(f -> !f.startsWith("missing")) ? refused.code() : 4)
                    .as(story + refused.all())
                    .isEqualTo(4);
            statement.execute("DELETE FROM " + quoted(names.get(1)));
            statement.execute("INSERT INTO " + quoted(names.get(1)) + " SELECT * FROM " + quoted(names.get(2)));
        }
    }
}
