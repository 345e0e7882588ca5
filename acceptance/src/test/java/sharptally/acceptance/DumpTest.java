package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import sharptally.acceptance.Database.Kind;

/** Dumps that the databases' own programs wrote: what was lost since is found, and comes back. */
@InTurn(1)
class DumpTest {
    @TempDir
    Path folder;

    @ParameterizedTest
    @CsvSource({
        "POSTGRESQL_13, POSTGRESQL",
        "POSTGRESQL_13, MARIADB",
        "MARIADB, MARIADB",
        "MARIADB, SQLITE",
        "SQLITE, SQLITE",
        "SQLITE, H2",
        "SQLITE, DUCKDB"
    })
    void lostRowsComeBack(Kind writer, Kind kind) throws Exception {
        long seed = Seed.next();
        Random random = new Random(seed);
        RandomTable table = new RandomTable(random);
        while (!table.declaredKey) {
            table = new RandomTable(random);
        }
        String story = "seed " + seed + " " + writer + " " + kind + " " + table;
        System.out.println(story);
        Database source = new Database(writer, folder, "source");
        Database target = new Database(kind, folder, "target");
        table.create(source, table.source);
        table.create(target, table.target);
        boolean differs = !table.expected.isEmpty();
        Tool tool = new Tool(folder);
        for (Path dump : dumps(source)) {
            String[] command = {"compare", "dump:" + dump, target.address()};
            Tool.Result compared = tool.run(command);
            assertThat(compared.code()).as(story + "\n" + compared.all()).isEqualTo(differs ? 1 : 0);
            assertThat(new TreeMap<>(FilesTest.findings(
                            tool.run("show", "--format", "jsonl").out(), table)))
                    .as(story + "\n" + compared.all())
                    .isEqualTo(new TreeMap<>(table.expected));
        }
        Tool.Result applied = tool.run("apply", "--yes");
        assertThat(applied.code()).as(story + "\n" + applied.all()).isZero();
        for (Path dump : dumps(source)) {
            Tool.Result again = tool.run("compare", "dump:" + dump, target.address());
            assertThat(again.code()).as(story + "\n" + again.all()).isZero();
            for (int i = 0; i < (Files.isDirectory(dump) ? 0 : 4); i++) {
                byte[] whole = Files.readAllBytes(dump);
                Path cut = folder.resolve("cut.sql");
                // Nothing but blanks and comments stands behind the closing line, and zeros behind an archive.
                int end = dump.toString().endsWith(".sql") ? 90 : 1_200;
                Files.write(cut, Arrays.copyOf(whole, random.nextInt(whole.length - end)));
                Tool.Result result = tool.run("compare", "dump:cut.sql", target.address());
                assertThat(result.code()).as(story + "\n" + result.all()).isEqualTo(3);
                assertThat(result.out()).doesNotContain("same:");
            }
        }
    }

    /** Of a schema with all that dumps write, each table of each form is the one that was dumped. */
    @Test
    void whatADatabaseHoldsIsInItsDump() throws Exception {
        Database database = new Database(Kind.POSTGRESQL_13, folder, "rich");
        database.execute(
                "CREATE TYPE sea AS ENUM ('calm', 'rough (wind), or NULL')",
                "CREATE DOMAIN level AS numeric(8,3) CHECK (VALUE > -100)",
                "CREATE TABLE station (id int PRIMARY KEY, code char(6) NOT NULL UNIQUE, name varchar(40) DEFAULT"
                        + " 'none; (PRIMARY KEY)', sea sea, opened date, twice int GENERATED ALWAYS AS (id * 2) STORED)"
                        + " WITH (fillfactor=70)",
                "COMMENT ON TABLE station IS 'all of them (; -- CREATE TABLE x ('",
                "CREATE TABLE reading (id bigint GENERATED ALWAYS AS IDENTITY, station_id int REFERENCES station (id), taken"
                        + " timestamp(3), at timestamptz, level level, raw bytea, ok boolean, doc jsonb, tags text[],"
                        + " PRIMARY KEY (id, taken)) PARTITION BY RANGE (taken)",
                "CREATE TABLE reading_2020 PARTITION OF reading FOR VALUES FROM ('2020-01-01') TO ('2020-01-20')",
                "CREATE TABLE reading_late (taken timestamp(3) NOT NULL, id bigint NOT NULL, tags text[], station_id int,"
                        + " at timestamptz, level level, raw bytea, ok boolean, doc jsonb)",
                "ALTER TABLE reading ATTACH PARTITION reading_late FOR VALUES FROM ('2020-01-20') TO ('2022-01-01')",
                "CREATE TABLE note (id int PRIMARY KEY, text text)",
                "CREATE TABLE long_note (extra varchar(10), PRIMARY KEY (id)) INHERITS (note)",
                "CREATE UNIQUE INDEX note_text ON note (text)",
                "CREATE FUNCTION g() RETURNS void LANGUAGE sql AS $q$ INSERT INTO note VALUES (99, 'y'); $q$",
                "INSERT INTO station SELECT i, 'S' || i, 'a' || i, 'rough (wind), or NULL', date '2000-01-01' + i"
                        + " FROM generate_series(1, 20) i",
                "INSERT INTO reading (station_id, taken, at, level, raw, ok, doc, tags) SELECT 1 + i % 20, timestamp"
                        + " '2020-01-01' + i * interval '1 hour', timestamptz '2020-01-01Z' + i * interval '1 hour', i / 10.0,"
                        + " decode(md5(i::text), 'hex'), i % 2 = 0, '{\"a\": 1.0}', ARRAY['a,b', 'c'] FROM"
                        + " generate_series(1, 900) i",
                "INSERT INTO note VALUES (1, 'a'), (2, 'b')",
                "INSERT INTO long_note VALUES (3, 'c', 'd')");
        Tool tool = new Tool(folder);
        List<Path> dumps = dumps(database);
        for (Path dump : dumps) {
            Tool.Result same = tool.run("compare", "dump:" + dump, database.address(), "--leave-out-column", "twice");
            assertThat(same.code()).as(dump + "\n" + same.all()).isZero();
            assertThat(same.out()).contains("every row of 4 tables was compared");
        }
        // In types of the dump's own, as long as nobody else has some.
        Path before = Files.copy(dumps.get(0), folder.resolve("before.sql"));
        database.execute("UPDATE reading SET level = level + 0.001, doc = '{\"a\": 1}' WHERE id = 7");
        Tool.Result changed =
                tool.run("compare", "dump:" + before, "dump:" + dumps(database).get(1), "--table", "reading");
        assertThat(changed.code()).as(changed.all()).isEqualTo(1);
        assertThat(tool.run("show", "--format", "jsonl").out().lines().toList())
                .singleElement()
                .asString()
                .contains("level")
                .doesNotContain("doc");
    }

    /** Nothing is executed: what would change rows that others bring, or bring them from elsewhere, is no dump. */
    @Test
    void scriptsAreReadOrRefused() throws Exception {
        Path scripts = Files.createDirectory(folder.resolve("scripts"));
        Files.writeString(
                scripts.resolve("1.sql"), "CREATE TABLE a (id int PRIMARY KEY, b int REFERENCES b, t varchar(9));");
        Files.writeString(
                scripts.resolve("2.sql"),
                "INSERT INTO a VALUES (1, NULL, 'it''s; \\'), (2, 5, '--');\ninsert into b values (5)");
        Files.writeString(scripts.resolve("3.sql"), ";CREATE TABLE b (id int PRIMARY KEY)");
        Tool tool = new Tool(folder);
        for (String other :
                List.of("id,v\n1,a\n", "\u007fELF\u0000\u0001CREATE TABLE x", "<project>\n</project>\n", "")) {
            Files.writeString(folder.resolve("other"), other);
            Tool.Result none = tool.run("survey", "dump:other");
            assertThat(none.code()).as(other + none.all()).isEqualTo(3);
            assertThat(none.err()).contains("neither a dump");
        }
        Tool.Result cut = tool.run("survey", "dump:scripts");
        assertThat(cut.code()).as(cut.all()).isEqualTo(3);
        assertThat(cut.err()).contains("ends in the middle", "2.sql:2");
        Files.writeString(scripts.resolve("2.sql"), ";", java.nio.file.StandardOpenOption.APPEND);
        Files.writeString(scripts.resolve("3.sql"), ";", java.nio.file.StandardOpenOption.APPEND);
        Database target = new Database(Kind.SQLITE, folder, "target");
        target.execute(
                "CREATE TABLE b (id INTEGER PRIMARY KEY)",
                "CREATE TABLE a (id INTEGER PRIMARY KEY, b INTEGER REFERENCES b, t VARCHAR(9))",
                "INSERT INTO b VALUES (5)",
                "INSERT INTO a VALUES (1, NULL, 'it''s; \\'), (2, 5, '--')");
        Tool.Result same = tool.run("compare", "dump:scripts", target.address());
        assertThat(same.code()).as(same.all()).isZero();
        for (String other : List.of(
                "UPDATE a SET b = 1",
                "DELETE FROM a",
                "TRUNCATE a",
                "WITH x AS (SELECT 1) INSERT INTO a SELECT 7",
                "INSERT INTO a SELECT 7, 7, 'x'",
                "ALTER TABLE a ADD COLUMN c int",
                "CREATE TABLE c AS SELECT 1",
                "CALL fill()",
                "MERGE INTO a USING b ON true WHEN MATCHED THEN DELETE")) {
            Files.writeString(scripts.resolve("4.sql"), other + ";");
            Tool.Result refused = tool.run("compare", "dump:scripts", target.address());
            assertThat(refused.code()).as(other + refused.all()).isEqualTo(3);
            assertThat(refused.err()).contains("4.sql:1");
        }
    }

    /** Points in time of a MariaDB dump that does not say in which zone they are written are those of the zone that a rule names. */
    @Test
    void pointsInTimeOfNoZoneAreThoseOfARule() throws Exception {
        Database target = new Database(Kind.MARIADB, folder, "target");
        target.execute(
                "CREATE TABLE t (id int PRIMARY KEY, at timestamp NULL)",
                "SET time_zone = '+00:00'",
                "INSERT INTO t VALUES (1, '2026-01-31 11:00:00'), (2, '2026-07-31 11:00:00'), (3, NULL)");
        String rows = "CREATE TABLE `t` (`id` int NOT NULL, `at` timestamp NULL, PRIMARY KEY (`id`));\n"
                + "INSERT INTO `t` VALUES (1,'2026-01-31 12:00:00'),(2,'2026-07-31 13:00:00'),(3,NULL);\n";
        Files.writeString(folder.resolve("local.sql"), rows);
        Files.writeString(
                folder.resolve("utc.sql"),
                "/*!40103 SET TIME_ZONE='+00:00' */;\n"
                        + rows.replace("12:00", "11:00").replace("13:00", "11:00"));
        Files.writeString(folder.resolve("job.yaml"), """
                job: 1
                source: 'dump:local.sql'
                target: '%s'
                matches:
                  - source: t
                    columns:
                      - {source: at, target: at, zone: {source: Europe/Oslo}}
                """.formatted(target.address()));
        Tool tool = new Tool(folder);
        assertThat(tool.run("compare", "dump:utc.sql", target.address()).all())
                .startsWith("exit 0")
                .doesNotContain("taken as UTC");
        assertThat(tool.run("compare", "--job", "job.yaml").all()).startsWith("exit 0");
        assertThat(tool.run("compare", "dump:local.sql", target.address()).all())
                .startsWith("exit 1")
                .contains("2 changed", "UTC");
    }

    /** A large dump is read once; what is kept of it is what it holds, for its owner alone, and never says anything else. */
    @Test
    void whatIsReadOfALargeDumpIsKept() throws Exception {
        Database source = new Database(Kind.SQLITE, folder, "source");
        source.execute(
                "CREATE TABLE r (id INTEGER PRIMARY KEY, a REAL, b TEXT, c BLOB)",
                "WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 60000) INSERT INTO r SELECT i, i / 7.0,"
                        + " CASE WHEN i % 5 = 0 THEN NULL ELSE 'remark ' || i || char(10) || char(39) END, zeroblob(i % 40) FROM n",
                "CREATE TABLE empty (id INTEGER PRIMARY KEY)");
        Path dump = dumps(source).get(0);
        assertThat(Files.size(dump)).isGreaterThan(4 << 20);
        Map<String, String> home =
                Map.of("XDG_CACHE_HOME", folder.resolve("cache").toString());
        Tool tool = Tool.apart(folder);
        String[] compare = {"compare", "dump:" + dump, source.address()};
        Tool.Result first = tool.with(home, compare);
        assertThat(first.code()).as(first.all()).isZero();
        Tool.Result kept = tool.with(home, "kept", "--format", "json");
        assertThat(kept.json().get("kept").findValuesAsText("tables"))
                .as(kept.all())
                .containsExactly("2");
        try (Stream<Path> files = Files.walk(folder.resolve("cache/sharp-tally"))) {
            for (Path file : files.toList()) {
                assertThat(PosixFilePermissions.toString(Files.getPosixFilePermissions(file)))
                        .as(file.toString())
                        .isEqualTo(Files.isDirectory(file) ? "rwx------" : "rw-------");
            }
        }
        source.execute("UPDATE r SET b = 'other' WHERE id = 31234", "DELETE FROM r WHERE id = 7");
        Tool.Result second = tool.with(home, compare);
        assertThat(second.code()).as(second.all()).isEqualTo(1);
        String found = tool.run("show", "--format", "jsonl").out();
        tool.with(home, "kept", "--remove-all");
        assertThat(tool.with(home, "compare", "dump:" + dump + "?keep=no", source.address())
                        .code())
                .isEqualTo(1);
        assertThat(tool.run("show", "--format", "jsonl").out()).isEqualTo(found);
        assertThat(tool.with(home, "kept").out()).contains("nothing is kept");

        tool.with(home, compare);
        try (Stream<Path> files = Files.walk(folder.resolve("cache"))) {
            Path rows = files.filter(
                            f -> f.toString().endsWith(".rows") && f.toString().contains("60000"))
                    .findFirst()
                    .orElseThrow();
            byte[] bytes = Files.readAllBytes(rows);
            bytes[bytes.length / 2] ^= 1;
            Files.write(rows, bytes);
        }
        Tool.Result damaged = tool.with(home, compare);
        assertThat(damaged.code()).as(damaged.all()).isEqualTo(3);
        assertThat(damaged.all()).contains("what was kept of a dump is damaged");
        // The dump is another one now.
        Files.writeString(dump, "\n-- end\n", java.nio.file.StandardOpenOption.APPEND);
        assertThat(tool.with(home, compare).code()).isEqualTo(1);
        assertThat(tool.run("show", "--format", "jsonl").out()).isEqualTo(found);
    }

    /** Whatever a dump holds beside rows in plain columns is passed over, and what it can't hold is told. */
    @Test
    void whatIsNoRowOfAPlainColumnIsPassedOver() throws Exception {
        Database source = new Database(Kind.SQLITE, folder, "source");
        source.execute(
                "CREATE TABLE \"a;b\" (id INTEGER PRIMARY KEY, note TEXT DEFAULT ';--', twice INT AS (id * 2))",
                "INSERT INTO \"a;b\" (id, note) VALUES (9223372036854775807, 'x'';' || char(10) || '-- INSERT INTO')",
                "CREATE TRIGGER tr AFTER INSERT ON \"a;b\" BEGIN DELETE FROM \"a;b\" WHERE note = ';';"
                        + " INSERT INTO \"a;b\" (id, note) VALUES (5, 'none'); END",
                "CREATE VIEW v AS SELECT 1 AS one");
        Path dump = dumps(source).get(0);
        Tool tool = new Tool(folder);
        Tool.Result whole = tool.run("compare", "dump:" + dump, source.address() + "#a;b");
        assertThat(whole.code()).as(whole.all()).isEqualTo(1);
        assertThat(whole.out()).as(whole.all()).contains("1 extra column");
        Tool.Result plain =
                tool.run("compare", "dump:" + dump, source.address() + "#a;b", "--leave-out-column", "twice");
        assertThat(plain.code()).as(plain.all()).isZero();
    }

    /** In each form that the program knows. */
    private List<Path> dumps(Database database) throws Exception {
        List<Path> files = new ArrayList<>();
        String[] address = database.address().replaceAll("^[a-z]+:/*", "").split("[@:/]");
        switch (database.kind().like()) {
            case POSTGRESQL -> {
                for (String form : List.of("--no-owner", "--inserts", "--column-inserts", "-Fc", "-Ft")) {
                    files.add(run("pg_dump", form, "-h", address[1], "-p", address[2], "-U", address[0], address[3]));
                }
                Path directory = folder.resolve("dump" + files.size() + System.nanoTime());
                run(
                        "pg_dump",
                        "-Fd",
                        "-f",
                        directory.toString(),
                        "-h",
                        address[1],
                        "-p",
                        address[2],
                        "-U",
                        address[0],
                        address[3]);
                files.add(directory);
            }
            case MARIADB -> {
                for (String form :
                        List.of("--quick", "--hex-blob", "--skip-extended-insert", "--complete-insert", "--replace")) {
                    files.add(run(
                            "mariadb-dump",
                            form,
                            "--default-character-set=utf8mb4",
                            "-h",
                            address[1],
                            "-P",
                            address[2],
                            "-u",
                            address[0],
                            address[3]));
                }
            }
            default -> files.add(run("sqlite3", folder.resolve("source.db").toString(), ".dump"));
        }
        return files;
    }

    private Path run(String... command) throws Exception {
        boolean there = Arrays.stream(System.getenv("PATH").split(":"))
                .anyMatch(p -> Files.isExecutable(Path.of(p, command[0])));
        assumeTrue(there, command[0] + " is not here");
        Path file = folder.resolve(
                command[0] + command[1].replace("/", "") + (command[1].startsWith("-F") ? ".dump" : ".sql"));
        Process process = new ProcessBuilder(command)
                .redirectOutput(file.toFile())
                .redirectError(ProcessBuilder.Redirect.INHERIT)
                .start();
        assertThat(process.waitFor()).as(String.join(" ", command)).isZero();
        return file;
    }
}
