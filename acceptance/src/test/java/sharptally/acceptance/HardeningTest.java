package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.security.MessageDigest;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.Iterator;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.h2.mvstore.MVStore;
import org.h2.mvstore.db.ValueDataType;
import org.h2.mvstore.tx.Transaction;
import org.h2.mvstore.tx.TransactionMap;
import org.h2.mvstore.tx.TransactionStore;
import org.h2.result.SearchRow;
import org.h2.value.ValueVarchar;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Files, addresses and job files that mean harm: no code runs, nothing is read or shown. */
class HardeningTest extends TwoDatabases {
    @BeforeEach
    void runWithinThisProcess() {
        tool = new Tool(folder);
    }

    private void isNowhere(String secret) throws IOException {
        try (Stream<Path> files = Files.walk(folder)) {
            for (Path file : files.filter(Files::isRegularFile).toList()) {
                String text = new String(Files.readAllBytes(file), StandardCharsets.ISO_8859_1);
                assertThat(text).as(file.toString()).doesNotContain(secret);
            }
        }
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "CREATE TRIGGER t BEFORE INSERT ON gauge AS $$ org.h2.api.Trigger make() throws Exception { "
                        + "java.nio.file.Files.createFile(java.nio.file.Path.of(\"FOLDER/run\")); "
                        + "return (c, o, n) -> { }; } $$",
                "CREATE ALIAS f AS $$ int f() throws Exception { "
                        + "java.nio.file.Files.createFile(java.nio.file.Path.of(\"FOLDER/run\")); return 1; } $$; "
                        + "CREATE VIEW v AS SELECT f() AS x",
                "CREATE VIEW v AS SELECT FILE_READ('FOLDER/private', NULL) AS x",
                "CREATE VIEW v AS SELECT * FROM CSVREAD('FOLDER/private')",
                "CREATE LINKED TABLE l('', 'jdbc:h2:mem:x', 'sa', '', '(SELECT 1)')"
            })
    void codeInAnH2FileIsNeverRun(String code) throws Exception {
        Files.writeString(folder.resolve("private"), "x\n" + SECRET + "\n");
        Database evil = new Database(Database.Kind.H2, folder, "evil");
        evil.execute(
                "CREATE TABLE gauge (id INTEGER PRIMARY KEY, level REAL)", code.replace("FOLDER", folder.toString()));
        Files.deleteIfExists(folder.resolve("run"));
        Files.writeString(
                folder.resolve("job.yaml"), "job: 1\nsource: \"h2:evil\"\ntarget: \"" + two.address() + "\"\n");
        Files.writeString(
                folder.resolve("bold.yaml"),
                "job: 1\nsource: \"h2:evil?allow-code=true\"\ntarget: \"" + two.address() + "\"\n");
        for (List<String> command : List.of(
                List.of("survey", "h2:evil"),
                List.of("compare", "h2:evil", two.address()),
                List.of("compare", two.address(), "h2:evil"),
                List.of("checksum", "h2:evil"),
                List.of("compare", "--job", "job.yaml"),
                List.of("compare", "--job", "bold.yaml"))) {
            isRefused(tool.run(command.toArray(new String[0])), 2, 4);
        }
        assertThat(folder.resolve("run")).doesNotExist();
        assertThat(tool.run("survey", "h2:evil?allow-code=true").code()).isZero();
    }

    /** H2 carries out whatever stands in its catalogue, also what it never writes there itself. */
    @ParameterizedTest
    @ValueSource(
            strings = {
                "/**/CREATE FORCE TRIGGER \"PUBLIC\".\"T\" BEFORE INSERT ON \"PUBLIC\".\"GAUGE\" QUEUE 1024 AS 'CODE'",
                "CREATE--\nFORCE TRIGGER \"PUBLIC\".\"T\" BEFORE INSERT ON \"PUBLIC\".\"GAUGE\" QUEUE 1024 AS 'CODE'",
                "CREATE FORCE/**/TRIGGER \"PUBLIC\".\"T\" BEFORE INSERT ON \"PUBLIC\".\"GAUGE\" QUEUE 1024 AS 'CODE'",
                "SET CACHE_SIZE 1; CREATE FORCE TRIGGER \"PUBLIC\".\"T\" BEFORE INSERT ON \"PUBLIC\".\"GAUGE\" AS 'CODE'",
                "SET DEFAULT_TABLE_ENGINE 'org.h2.mvstore.db.MVTableEngine'",
                "SET DATABASE_EVENT_LISTENER 'org.h2.tools.Server'",
                "SET TRACE_LEVEL_FILE 3",
                "RUNSCRIPT FROM 'private'",
                "SCRIPT TO 'FOLDER/run'",
                "CALL FILE_WRITE('x', 'FOLDER/run')",
                "SET @A = FILE_WRITE('x', 'FOLDER/run')"
            })
    void anH2CatalogueThatWasTamperedWithIsNotCarriedOut(String statement) throws Exception {
        Database evil = new Database(Database.Kind.H2, folder, "evil");
        evil.execute("CREATE TABLE gauge (id INTEGER PRIMARY KEY, level REAL)", "CREATE CONSTANT k VALUE 1");
        String code =
                "org.h2.api.Trigger make() throws Exception { java.nio.file.Files.createFile(java.nio.file.Path.of("
                        + "\"FOLDER/run\")); return (c, o, n) -> { }; }";
        String planted = statement.replace("CODE", code).replace("FOLDER", folder.toString());
        try (MVStore store = new MVStore.Builder()
                .fileName(folder.resolve("evil.mv.db").toString())
                .open()) {
            TransactionStore transactions = new TransactionStore(store, new ValueDataType());
            transactions.init();
            Transaction transaction = transactions.begin();
            TransactionMap<Long, SearchRow> rows = transaction.openMap("table.0");
            for (Iterator<Long> keys = rows.keyIterator(null); keys.hasNext(); ) {
                SearchRow row = rows.get(keys.next());
                if (row.getValue(3).getString().startsWith("CREATE CONSTANT")) {
                    row.setValue(3, ValueVarchar.get(planted));
                    rows.put(row.getKey(), row);
                }
            }
            transaction.commit();
        }
        isRefused(tool.run("compare", "h2:evil", two.address()), 4);
        isRefused(tool.run("survey", "h2:evil"), 4);
        assertThat(folder.resolve("run")).doesNotExist();
    }

    /** What H2 itself writes of all that is no code is let pass. */
    @Test
    void anH2FileOfManyKindsOfObjectsIsOpened() throws Exception {
        Database whole = new Database(Database.Kind.H2, folder, "whole");
        whole.execute(
                "CREATE SCHEMA s AUTHORIZATION sa",
                "CREATE TABLE s.t (id INTEGER GENERATED ALWAYS AS IDENTITY PRIMARY KEY, a VARCHAR_IGNORECASE(20)"
                        + " DEFAULT 'x;--/* TRIGGER' NOT NULL, b INTEGER CHECK (b > 0), g INTEGER GENERATED ALWAYS AS (b + 1),"
                        + " e ENUM('a', 'b'), ts TIMESTAMP ON UPDATE CURRENT_TIMESTAMP, UNIQUE (a))",
                "CREATE UNIQUE NULLS NOT DISTINCT INDEX ui ON s.t (e)",
                "CREATE VIEW v AS SELECT id, 'a;b' \"q;-- CALL\" FROM s.t WHERE a LIKE '%--%'",
                "CREATE SEQUENCE sq START WITH 5",
                "CREATE DOMAIN d AS VARCHAR(5) CHECK (VALUE <> '')",
                "CREATE TABLE u (x d, y INTEGER ARRAY, y2 INTEGER REFERENCES s.t (id) ON DELETE CASCADE)",
                "CREATE CONSTANT k VALUE 5",
                "CREATE ROLE r",
                "GRANT SELECT ON s.t TO r",
                "COMMENT ON TABLE s.t IS 'it''s; -- x'",
                "CREATE USER bob PASSWORD 'x'",
                "CREATE SYNONYM syn FOR s.t",
                "CREATE MEMORY TABLE m (a INTEGER)",
                "ALTER TABLE s.t ADD CONSTRAINT ck CHECK (b < 100)",
                "SET IGNORECASE FALSE");
        Tool.Result opened = tool.run("survey", "h2:whole");
        assertThat(opened.code()).as(opened.all()).isZero();
    }

    @Test
    void aDuckDbFileReachesNothingOutsideOfItself() throws Exception {
        Files.writeString(folder.resolve("private"), "x\n" + SECRET + "\n");
        Database evil = new Database(Database.Kind.DUCKDB, folder, "evil");
        evil.execute(
                "CREATE TABLE gauge (id INTEGER PRIMARY KEY, level REAL)",
                "INSERT INTO gauge SELECT range, range FROM range(50000)",
                "CREATE VIEW v AS SELECT * FROM read_csv('" + folder + "/private')",
                "CREATE VIEW w AS SELECT content FROM read_text('" + folder + "/private')");
        Database like = new Database(Database.Kind.DUCKDB, folder, "like");
        like.execute(
                "CREATE TABLE v (x VARCHAR)",
                "CREATE TABLE w (content VARCHAR)",
                "CREATE TABLE gauge (id INTEGER PRIMARY KEY, level REAL)",
                "INSERT INTO gauge SELECT range, range FROM range(50000) WHERE range <> 7");
        for (String table : List.of("v", "w")) {
            Tool.Result result = tool.run("compare", evil.address() + "#" + table, like.address() + "#" + table);
            assertThat(result.code()).as(result.all()).isEqualTo(3);
            assertThat(result.all()).doesNotContain(SECRET);
        }
        Files.delete(folder.resolve("private"));
        isNowhere(SECRET);
        // What lies within works as ever, over several connections and with changes.
        Tool.Result own = tool.run("compare", evil.address() + "#gauge", like.address() + "#gauge", "--workers", "2");
        assertThat(own.code()).as(own.all()).isEqualTo(1);
        assertThat(tool.run("apply", "--yes").code()).isZero();
        assertThat(like.values("SELECT count(*) FROM gauge")).containsExactly("50000");
    }

    @Test
    void addressesOfDriversAreTakenFromTheUserAlone() throws Exception {
        for (String address : List.of(
                "jdbc:h2:mem:x;INIT=CREATE TABLE a(b INT)",
                "jdbc:sqlite:made.db",
                "jdbc:duckdb:made.duckdb",
                "jdbc:hsqldb:mem:x",
                "jdbc:postgresql://127.0.0.1/x?socketFactory=a.B")) {
            Files.writeString(
                    folder.resolve("job.yaml"),
                    "job: 1\nsource: \"" + address + "\"\ntarget: \"" + two.address() + "\"\n");
            isRefused(Tool.apart(folder).run("compare", "--job", "job.yaml"), 2, 4);
        }
        isRefused(Tool.apart(folder).run("compare", "jdbc:h2:file:./made", two.address()), 2);
        isRefused(Tool.apart(folder).run("compare", "jdbc:hsqldb:mem:x;callback_class=a.B", two.address()), 3, 4);
        try (Stream<Path> files = Files.list(folder)) {
            assertThat(files.map(f -> f.getFileName().toString())).noneMatch(name -> name.startsWith("made"));
        }
    }

    @Test
    void secretsAreNeverShownNorKept() throws Exception {
        for (String address : List.of(
                "postgresql://tally:" + SECRET + "@127.0.0.1:1/x",
                "postgresql://127.0.0.1:1/x?password=" + SECRET,
                "postgresql://127.0.0.1:1/x?driver.sslpassword=" + SECRET,
                "mariadb://127.0.0.1:1/x?driver.trustStorePassword=" + SECRET,
                "mariadb://127.0.0.1:1/x?driver.accessToken=" + SECRET,
                "jdbc:oracle:thin:scott/" + SECRET + "@host:1521/x",
                "jdbc:sqlserver://127.0.0.1;databaseName=x;clientSecret=" + SECRET,
                "jdbc:other://127.0.0.1/x?user=a&PWD=" + SECRET)) {
            isRefused(tool.run("compare", address, two.address()), 2);
            Files.writeString(folder.resolve("job.yaml"), "job: 1\nsource: \"${PLACE}\"\ntarget: two\n");
            isRefused(tool.with(Map.of("PLACE", address), "compare", "--job", "job.yaml"), 2);
        }
        isNowhere(SECRET);
        for (String entry : List.of(
                "    password: " + SECRET + "\n",
                "    password: [" + SECRET + "]\n",
                "    password: {env: {" + SECRET + ": 1}}\n",
                "    properties: {sslpassword: " + SECRET + "}\n",
                "    properties: {some-token: " + SECRET + "}\n",
                "    connections: " + SECRET + "\n")) {
            Files.writeString(
                    folder.resolve("connections.yaml"),
                    "connections:\n  bad:\n    address: postgresql://127.0.0.1:1/x\n" + entry + "  good:\n    address: "
                            + one.address() + "\n");
            isRefused(tool.run("compare", "@bad", two.address()), 2);
            assertThat(tool.run("compare", "@good", two.address()).code())
                    .as(entry)
                    .isEqualTo(1);
        }
        Files.writeString(folder.resolve("connections.yaml"), "connections:\n  bad: {" + SECRET + "\n");
        isRefused(tool.run("compare", "@bad", two.address()), 2);
        Files.delete(folder.resolve("connections.yaml"));
        Path password = Files.writeString(folder.resolve("password"), "x");
        Files.setPosixFilePermissions(password, PosixFilePermissions.fromString("rw-r--r--"));
        isRefused(tool.run("compare", "mariadb://127.0.0.1:1/x?password-file=password", two.address()), 2);
        Files.setPosixFilePermissions(password, PosixFilePermissions.fromString("rw-------"));
        isRefused(tool.run("compare", "mariadb://127.0.0.1:1/x?password-file=password", two.address()), 3);
    }

    @Test
    void aJobFileSendsNoVariablesButThoseThatItDeclares() throws Exception {
        String jobFile = "job: 1\nsource: " + one.address() + "\ntarget: " + two.address()
                + "\nnotify:\n  - {post: \"http://127.0.0.1:1/${HOOK}\"}\n  - {mail: {server: \"127.0.0.1:1\", from: a@b.c, to: \"${HOOK}@b.c\"}}\n";
        Files.writeString(folder.resolve("job.yaml"), jobFile);
        Tool.Result refused = tool.with(Map.of("HOOK", SECRET), "compare", "--job", "job.yaml");
        assertThat(refused.code()).as(refused.all()).isEqualTo(2);
        assertThat(refused.err()).contains("job.yaml, line 5", "job.yaml, line 6", "the variable HOOK would be sent");
        Files.writeString(folder.resolve("job.yaml"), jobFile + "secrets: [HOOK]\n");
        Tool.Result declared = tool.with(Map.of("HOOK", SECRET), "compare", "--job", "job.yaml");
        assertThat(declared.code()).as(declared.all()).isEqualTo(1);
        assertThat(declared.err()).contains("POST to 127.0.0.1 was not sent", "mail to ***@b.c was not sent");
        assertThat(declared.all()).doesNotContain(SECRET);
        isNowhere(SECRET);
    }

    /** Queries and conditions of a job file or run folder begin no statement of their own, nor read files. */
    @ParameterizedTest
    @EnumSource(names = {"SQLITE", "H2", "DUCKDB", "POSTGRESQL", "MARIADB", "MYSQL"})
    void theSqlOfAJobFileIsOneConditionOrQuery(Database.Kind kind) throws Exception {
        Database left = new Database(kind, folder, "left");
        Database right = new Database(kind, folder, "right");
        for (Database side : List.of(left, right)) {
            side.execute(
                    "CREATE TABLE gauge (id INTEGER PRIMARY KEY, note VARCHAR(20))",
                    "INSERT INTO gauge VALUES (1, 'a')");
        }
        Files.writeString(folder.resolve("private"), SECRET);
        String out =
                "ROLLBACK; COMMIT; SET SESSION CHARACTERISTICS AS TRANSACTION READ WRITE; DELETE FROM gauge; COMMIT;";
        List<String> hostile = new ArrayList<>(List.of(
                "1 = 1) tally_rows; " + out + " --",
                "1 = 1 /* ; */) x; DELETE FROM gauge; --",
                "note = 'a\\'; DELETE FROM gauge; -- '"));
        if (kind == Database.Kind.H2) {
            hostile.add("note <> UTF8TOSTRING(FILE_READ('private'))");
            hostile.add("EXISTS (SELECT 1 FROM CSVREAD('private'))");
        }
        String sides = "job: 1\nsource: \"" + left.address() + "\"\ntarget: \"" + right.address() + "\"\nmatches:\n";
        for (String sql : hostile) {
            String quoted = JSON.writeValueAsString(sql);
            List<String> matches = List.of(
                    "  - {source: gauge, where: " + quoted + "}\n",
                    "  - name: q\n    source: {query: " + JSON.writeValueAsString("SELECT * FROM gauge WHERE " + sql)
                            + "}\n    target: gauge\n    key: [id]\n",
                    "  - source: gauge\n    columns: [{source: note, target: note, read: {source: "
                            + JSON.writeValueAsString("CASE WHEN " + sql + " THEN note END") + "}}]\n");
            for (String match : matches) {
                Files.writeString(folder.resolve("hostile.yaml"), sides + match);
                Tool.Result told = tool.run("compare", "--job", "hostile.yaml");
                isRefused(told, 2, 3, 5);
            }
        }
        assertThat(left.values("SELECT id FROM gauge")).containsExactly("1");
        // What is in a run folder is not believed either.
        right.execute("UPDATE gauge SET note = 'b'");
        assertThat(tool.run("compare", left.address(), right.address(), "--where", "id > 0")
                        .code())
                .isEqualTo(1);
        Path matches = tool.latestRun().resolve("matches.json");
        String told = Files.readString(matches);
        assertThat(told).contains("id > 0");
        String forged = told.replace("id > 0", "1 = 1) tally_rows; DELETE FROM gauge; --");
        Files.writeString(matches, forged);
        Tool.Result unsealed = tool.run("recheck", tool.latestRun().toString());
        isRefused(unsealed, 2);
        assertThat(unsealed.err()).contains("matches.json is not as it was written");
        String json = forged.substring(forged.indexOf('\n') + 1, forged.length() - 2);
        byte[] digest = MessageDigest.getInstance("SHA-256").digest(json.getBytes(StandardCharsets.UTF_8));
        Files.writeString(
                matches, forged.replaceFirst("[0-9a-f]{64}", HexFormat.of().formatHex(digest)));
        isRefused(tool.run("recheck", tool.latestRun().toString()), 2, 3, 4, 5);
        assertThat(left.values("SELECT id FROM gauge")).containsExactly("1");
        assertThat(right.values("SELECT id FROM gauge")).containsExactly("1");
    }
}
