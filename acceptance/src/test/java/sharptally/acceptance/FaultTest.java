package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.Statement;
import java.util.List;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Assumptions;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** Servers that refuse, break off, are slow, or give no right: told in one line, and never taken for sameness. */
@InTurn(0)
class FaultTest {
    @TempDir
    Path folder;

    private Tool tool;

    @BeforeEach
    void tool() {
        tool = new Tool(folder);
    }

    private Database filled(Database.Kind kind, int rows) throws Exception {
        Database database = new Database(kind, folder, "many");
        try (Connection connection = database.execute(
                                "CREATE TABLE t (a INTEGER NOT NULL, b VARCHAR(20) NOT NULL, v VARCHAR(50), PRIMARY KEY (a, b))")
                        .connect();
                var insert = connection.prepareStatement("INSERT INTO t VALUES (?, ?, ?)")) {
            connection.setAutoCommit(false);
            for (int i = 0; i < rows; i++) {
                insert.setInt(1, i / 10);
                insert.setString(2, "k" + i % 10);
                insert.setString(3, "the value of row " + i);
                insert.addBatch();
            }
            insert.executeBatch();
            connection.commit();
        }
        return database;
    }

    private static int port(String address) {
        return Integer.parseInt(address.replaceAll(".*:(\\d+)/.*", "$1"));
    }

    @ParameterizedTest
    @EnumSource(names = {"POSTGRESQL", "MARIADB"})
    void cutConnectionIsTakenUpAgainBehindTheLastKey(Database.Kind kind) throws Exception {
        Database database = filled(kind, 60_000);
        String address = database.address();
        Database other = new Database(Database.Kind.SQLITE, folder, "many");
        other.execute(
                "CREATE TABLE t (a INTEGER NOT NULL, b TEXT NOT NULL, v TEXT, PRIMARY KEY (a, b))",
                "WITH RECURSIVE n (i) AS (SELECT 0 UNION ALL SELECT i + 1 FROM n WHERE i < 59999)"
                        + " INSERT INTO t SELECT i / 10, 'k' || (i % 10), 'the value of row ' || i FROM n",
                "UPDATE t SET v = 'other' WHERE a = 4321 AND b = 'k7'");
        try (var proxy = new CuttingProxy(port(address), 900_000, 2)) {
            String proxied = address.replace(":" + port(address) + "/", ":" + proxy.port() + "/");
            Tool.Result result = tool.run("compare", other.address(), proxied);
            assertThat(result.code()).as(result.all()).isEqualTo(1);
            assertThat(proxy.cutsLeft()).isZero();
            assertThat(result.out())
                    .contains("reading went on behind the last key")
                    .contains("1 changed, 0 missing, 0 extra");
        }
        try (var proxy = new CuttingProxy(port(address), 200_000, 1_000)) {
            String proxied = address.replace(":" + port(address) + "/", ":" + proxy.port() + "/");
            Tool.Result result = tool.run("compare", other.address(), proxied);
            assertThat(result.code()).as(result.all()).isIn(3, 5);
            assertThat(result.out()).contains("nothing was proved").doesNotContain("same:");
            assertThat(tool.run("script").code()).isEqualTo(4);
        }
    }

    @Test
    void refusalsAreToldInOneLine() throws Exception {
        Database database = filled(Database.Kind.POSTGRESQL, 10);
        String address = database.address();
        String server = address.substring(0, address.lastIndexOf('/'));
        Database maria = filled(Database.Kind.MARIADB, 10);
        assertRefused(server + "/no_such_db", "check the database's name");
        assertRefused(address.replace("postgres@", "nobody_here@"), "check user and password");
        assertRefused(address.replaceAll(":\\d+/", ":1/"), "check host and port");
        assertRefused(maria.address().replaceAll(":\\d+/", ":1/"), "check host and port");
        assertRefused(address + "?driver.sslmode=require", "tls=require to encrypt");
        assertRefused("jdbc:nothing://here", "put its jar into the folder drivers");
        Tool.Result open = tool.run("survey", address.replace("@", ":geheim@"));
        assertThat(open.code()).isEqualTo(2);
        assertThat(open.all()).contains("must not hold a password").doesNotContain("geheim");
    }

    private void assertRefused(String address, String mend) {
        Tool.Result result = tool.run("survey", address);
        assertThat(result.code()).as(address + result.all()).isEqualTo(3);
        assertThat(result.err()).as(address).startsWith("sharp-tally: ").contains(mend);
        assertThat(result.err().lines()).hasSize(1);
    }

    @Test
    void tableWithoutRightsIsNamed() throws Exception {
        Database database = filled(Database.Kind.POSTGRESQL, 10);
        database.execute(
                "CREATE TABLE open (id INT PRIMARY KEY)",
                "DO $$ BEGIN CREATE ROLE tide_reader LOGIN; EXCEPTION WHEN duplicate_object THEN NULL; END $$",
                "GRANT SELECT ON open TO tide_reader");
        String address = database.address().replace("postgres@", "tide_reader@");
        assertThat(tool.run("survey", address).out()).contains("CAN'T BE READ: ERROR: permission denied for table t");
        Tool.Result result = tool.run("compare", address, database.address());
        assertThat(result.code()).as(result.all()).isEqualTo(3);
        assertThat(result.out()).contains("not finished: t:").contains("ask for the right to read it");
        assertThat(result.out()).contains("1 table not proved either way");
    }

    @Test
    void namedPlaceAndItsSecretsStayOutOfAllThatIsKept() throws Exception {
        Database database = filled(Database.Kind.POSTGRESQL, 10);
        Files.writeString(folder.resolve("secret"), "geheim\n");
        Files.setPosixFilePermissions(folder.resolve("secret"), PosixFilePermissions.fromString("rw-------"));
        Files.writeString(
                folder.resolve("connections.yaml"),
                "connections:\n  archive:\n    address: \"" + database.address()
                        + "\"\n    password: {file: secret}\n    statement-timeout: 1m\n");
        Tool.Result result = tool.run("compare", "@archive", "@archive");
        assertThat(result.code()).as(result.all()).isZero();
        try (var files = Files.walk(tool.latestRun())) {
            for (Path file : files.filter(Files::isRegularFile).toList()) {
                assertThat(Files.readString(file)).as(file.toString()).doesNotContain("geheim");
            }
        }
        assertThat(Files.readString(tool.latestRun().resolve("job.yaml"))).contains("@archive");
        assertThat(tool.run("survey", "@archiv").err())
                .contains("no connection of this name: @archiv; did you mean archive?");
        Files.writeString(folder.resolve("connections.yaml"), "connections:\n  archive:\n    adress: \"x:y\"\n");
        assertThat(tool.run("survey", "@archive").err()).contains("no such key").contains("did you mean address?");
    }

    @Test
    void slowStatementEndsAtItsTimeout() throws Exception {
        Database database = new Database(Database.Kind.POSTGRESQL, folder, "slow")
                .execute("CREATE VIEW t AS SELECT i AS id, pg_sleep(0.05)::text AS v FROM generate_series(1, 1000) i");
        Tool.Result result =
                tool.run("compare", database.address() + "?statement-timeout=300ms", database.address(), "--key", "id");
        assertThat(result.code()).as(result.all()).isEqualTo(3);
        assertThat(result.out()).contains("give it longer with statement-timeout");
    }

    /** Where another session holds the table, a reader gives up after its time, or the limit is refused: never ignored. */
    @ParameterizedTest
    @EnumSource
    void aReaderWaitsNoLongerThanItMay(Database.Kind kind) throws Exception {
        Database database = new Database(kind, folder, "held").execute("CREATE TABLE t (id INT PRIMARY KEY)");
        String limited = database.address() + "?lock-wait=1s";
        if (kind == Database.Kind.DUCKDB) {
            Tool.Result refused = tool.run("compare", limited, database.address());
            assertThat(refused.code()).as(refused.all()).isEqualTo(2);
            assertThat(refused.err()).contains("this engine keeps no such limit: lock-wait");
            return;
        }
        assertThat(tool.run("compare", limited, database.address()).code()).isNotEqualTo(2);
        if (kind == Database.Kind.SQLITE) {
            assertThat(tool.run("compare", limited, database.address() + "?statement-timeout=1s")
                            .err())
                    .contains("this engine keeps no such limit: statement-timeout");
        }
        if (kind == Database.Kind.H2) {
            // Its file is held by one process alone.
            return;
        }
        try (Connection other = database.connect();
                Statement statement = other.createStatement()) {
            if (kind != Database.Kind.SQLITE) {
                other.setAutoCommit(false);
            }
            statement.execute(
                    kind == Database.Kind.SQLITE
                            ? "BEGIN EXCLUSIVE"
                            : kind.like() == Database.Kind.MARIADB
                                    ? "LOCK TABLES t WRITE"
                                    : "LOCK TABLE t IN ACCESS EXCLUSIVE MODE");
            long from = System.nanoTime();
            Tool.Result given = tool.run("compare", limited + "#t", limited + "#t", "--method", "stream");
            assertThat(given.code()).as(given.all()).isEqualTo(3);
            assertThat(given.all()).containsPattern("another (session|program) holds it");
            assertThat(TimeUnit.NANOSECONDS.toSeconds(System.nanoTime() - from)).isBetween(1L, 25L);
        }
    }

    @Test
    void interruptEndsTheStatementOnTheServerToo() throws Exception {
        Database database = new Database(Database.Kind.POSTGRESQL, folder, "slow")
                .execute("CREATE VIEW t AS SELECT i AS id, pg_sleep(0.05)::text AS v FROM generate_series(1, 2000) i");
        Process process = new ProcessBuilder(
                        Tool.home().resolve("bin/sharp-tally").toString(),
                        "compare",
                        database.address(),
                        database.address(),
                        "--key",
                        "id")
                .directory(folder.toFile())
                .redirectErrorStream(true)
                .redirectOutput(folder.resolve("out").toFile())
                .start();
        for (int i = 0; i < 200 && running(database) < 2; i++) {
            Thread.sleep(50);
        }
        assertThat(running(database)).isEqualTo(2);
        new ProcessBuilder("kill", "-INT", Long.toString(process.pid())).start().waitFor();
        assertThat(process.waitFor(10, TimeUnit.SECONDS)).isTrue();
        assertThat(process.exitValue())
                .as(Files.readString(folder.resolve("out")))
                .isEqualTo(5);
        Thread.sleep(300);
        assertThat(running(database)).isZero();
    }

    private static long running(Database database) throws Exception {
        try (Connection connection = database.connect();
                Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery("SELECT count(*) FROM pg_stat_activity"
                        + " WHERE application_name = 'sharp-tally' AND state = 'active' AND query LIKE 'COPY%'")) {
            row.next();
            return row.getLong(1);
        }
    }

    @Test
    void anyOtherDriverComparesAndMends() throws Exception {
        // A database inside this process stays open in it.
        tool = Tool.apart(folder);
        Database source = filled(Database.Kind.SQLITE, 500);
        for (String name : List.of("hsqldb", "derby")) {
            boolean derby = name.equals("derby");
            String url = derby
                    ? "jdbc:derby:" + folder.resolve("derby") + ";create=true"
                    : "jdbc:hsqldb:file:" + folder.resolve("hsql") + ";shutdown=true";
            Class<?> driver =
                    derby ? org.apache.derby.iapi.jdbc.AutoloadedDriver.class : org.hsqldb.jdbc.JDBCDriver.class;
            try (Connection connection = java.sql.DriverManager.getConnection(url);
                    Statement statement = connection.createStatement()) {
                statement.execute("CREATE TABLE T (A INTEGER NOT NULL, B VARCHAR(20) NOT NULL, V VARCHAR(50),"
                        + " PRIMARY KEY (A, B))");
                statement.execute("INSERT INTO T VALUES (7, 'k1', 'it''s wrong'), (900, 'k1', NULL)");
            }
            if (derby) {
                try {
                    java.sql.DriverManager.getConnection("jdbc:derby:" + folder.resolve("derby") + ";shutdown=true");
                } catch (java.sql.SQLException e) {
                    assertThat(e.getSQLState())
                            .as("Derby tells so that it shut down")
                            .isEqualTo("08006");
                }
            }
            String jars = System.getProperty("java.class.path");
            List<String> arguments = new java.util.ArrayList<>();
            for (String jar : jars.split(java.io.File.pathSeparator)) {
                if (jar.contains(name)) {
                    arguments.addAll(List.of("--driver-jar", jar));
                }
            }
            assertThat(arguments).as(driver.getName()).isNotEmpty();
            arguments.addAll(List.of("compare", source.address(), url.replace(";create=true", "")));
            Tool.Result result = tool.run(arguments.toArray(new String[0]));
            assertThat(result.code()).as(result.all()).isEqualTo(1);
            assertThat(result.out()).contains("1 changed, 499 missing, 1 extra");
            List<String> apply = new java.util.ArrayList<>(arguments.subList(0, arguments.size() - 3));
            apply.addAll(List.of("--allow-jdbc", "apply", "--yes"));
            Tool.Result applied = tool.run(apply.toArray(new String[0]));
            assertThat(applied.code()).as(applied.all()).isZero();
            assertThat(applied.out())
                    .contains("501 changes made and committed")
                    .contains("no longer different: all of");
        }
    }

    /** A real Firebird server, where {@code run-tests} could set one up. */
    @Test
    void firebirdServerComparesAndMends() throws Exception {
        Path secret = Path.of("/etc/firebird/3.0/SYSDBA.password");
        Path jar = Path.of(org.firebirdsql.jdbc.FBDriver.class
                .getProtectionDomain()
                .getCodeSource()
                .getLocation()
                .toURI());
        Assumptions.assumeTrue(Files.isReadable(secret), "no Firebird server is set up here");
        String password = Files.readString(secret).replaceAll("(?s).*ISC_PASSWORD=\"?([^\"\n]+).*", "$1");
        Path file = Files.createTempFile("sharp-tally-", ".fdb");
        Files.delete(file);
        String url = "jdbc:firebirdsql://127.0.0.1:3050/" + file + "?charSet=utf-8&createDatabaseIfNotExist=true";
        try (Connection connection = java.sql.DriverManager.getConnection(url, "sysdba", password);
                Statement statement = connection.createStatement()) {
            statement.execute(
                    "CREATE TABLE T (A INTEGER NOT NULL, B VARCHAR(20) NOT NULL, V VARCHAR(50), PRIMARY KEY (A, B))");
            statement.execute("INSERT INTO T VALUES (7, 'k1', 'wrong')");
        }
        Database source = filled(Database.Kind.SQLITE, 500);
        Files.writeString(folder.resolve("secret"), password);
        Files.setPosixFilePermissions(folder.resolve("secret"), PosixFilePermissions.fromString("rw-------"));
        Files.writeString(
                folder.resolve("connections.yaml"),
                "connections:\n  fire:\n    address: \"jdbc:firebirdsql://127.0.0.1:3050/" + file
                        + "?charSet=utf-8\"\n    user: sysdba\n    password: {file: secret}\n");
        Tool.Result result = tool.run("--driver-jar", jar.toString(), "compare", source.address(), "@fire");
        assertThat(result.code()).as(result.all()).isEqualTo(1);
        assertThat(result.out()).contains("1 changed, 499 missing, 0 extra");
        Tool.Result applied = tool.run("--driver-jar", jar.toString(), "apply", "--yes");
        assertThat(applied.code()).as(applied.all()).isZero();
    }
}
