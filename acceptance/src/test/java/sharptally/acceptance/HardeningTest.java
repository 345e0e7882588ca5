package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ContainerNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Files, addresses and environments that mean harm, or are merely broken: no code runs, nothing is read or shown. */
class HardeningTest {
    private static final ObjectMapper JSON = new ObjectMapper();
    private static final String SECRET = "hunter2-Zx81";

    @TempDir
    Path folder;

    private Tool tool;
    private Database one;
    private Database two;

    @BeforeEach
    void makeTwoDatabases() throws Exception {
        tool = new Tool(folder);
        one = new Database(Database.Kind.SQLITE, folder, "one");
        two = new Database(Database.Kind.SQLITE, folder, "two");
        for (Database side : List.of(one, two)) {
            side.execute(
                    "CREATE TABLE gauge (id INTEGER PRIMARY KEY, level REAL, note TEXT)",
                    "INSERT INTO gauge VALUES (1, 1.5, 'a'), (2, 0.1, 'b'), (3, 7, 'c')");
        }
        two.execute("UPDATE gauge SET level = 2 WHERE id = 2", "DELETE FROM gauge WHERE id = 3");
    }

    /** One line, no trace of the program's inside, and no secret. */
    private static void isRefused(Tool.Result result, Integer... codes) {
        assertThat(result.code()).as(result.all()).isIn((Object[]) codes);
        assertThat(result.err().strip().lines()).as(result.all()).hasSize(1);
        assertThat(result.all()).doesNotContain(SECRET, "Exception", "\tat ", "sharptally.");
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
                folder.resolve("job.yaml"), "sheet: 1\nsource: \"h2:evil\"\ntarget: \"" + two.address() + "\"\n");
        Files.writeString(
                folder.resolve("bold.yaml"),
                "sheet: 1\nsource: \"h2:evil?allow-code=true\"\ntarget: \"" + two.address() + "\"\n");
        for (List<String> command : List.of(
                List.of("survey", "h2:evil"),
                List.of("compare", "h2:evil", two.address()),
                List.of("compare", two.address(), "h2:evil"),
                List.of("checksum", "h2:evil"),
                List.of("compare", "--sheet", "job.yaml"),
                List.of("compare", "--sheet", "bold.yaml"))) {
            isRefused(tool.run(command.toArray(new String[0])), 2, 4);
        }
        assertThat(folder.resolve("run")).doesNotExist();
        assertThat(tool.run("survey", "h2:evil?allow-code=true").code()).isZero();
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
                    "sheet: 1\nsource: \"" + address + "\"\ntarget: \"" + two.address() + "\"\n");
            isRefused(tool.run("compare", "--sheet", "job.yaml"), 2, 4);
        }
        isRefused(tool.run("compare", "jdbc:h2:file:./made", two.address()), 2);
        isRefused(tool.run("compare", "jdbc:hsqldb:mem:x;callback_class=a.B", two.address()), 3, 4);
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
            Files.writeString(folder.resolve("job.yaml"), "sheet: 1\nsource: \"${PLACE}\"\ntarget: two\n");
            isRefused(tool.with(Map.of("PLACE", address), "compare", "--sheet", "job.yaml"), 2);
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
                    folder.resolve("places.yaml"),
                    "places:\n  bad:\n    address: postgresql://127.0.0.1:1/x\n" + entry + "  good:\n    address: "
                            + one.address() + "\n");
            isRefused(tool.run("compare", "@bad", two.address()), 2);
            assertThat(tool.run("compare", "@good", two.address()).code())
                    .as(entry)
                    .isEqualTo(1);
        }
        Files.writeString(folder.resolve("places.yaml"), "places:\n  bad: {" + SECRET + "\n");
        isRefused(tool.run("compare", "@bad", two.address()), 2);
        Files.delete(folder.resolve("places.yaml"));
        Path password = Files.writeString(folder.resolve("password"), "x");
        Files.setPosixFilePermissions(password, PosixFilePermissions.fromString("rw-r--r--"));
        isRefused(tool.run("compare", "mariadb://127.0.0.1:1/x?password-file=password", two.address()), 2);
        Files.setPosixFilePermissions(password, PosixFilePermissions.fromString("rw-------"));
        isRefused(tool.run("compare", "mariadb://127.0.0.1:1/x?password-file=password", two.address()), 3);
    }

    @Test
    void aSheetSendsNoVariablesButThoseThatItDeclares() throws Exception {
        String sheet = "sheet: 1\nsource: " + one.address() + "\ntarget: " + two.address()
                + "\nnotify:\n  - {post: \"http://127.0.0.1:1/${HOOK}\"}\n  - {mail: {server: \"127.0.0.1:1\", from: a@b.c, to: \"${HOOK}@b.c\"}}\n";
        Files.writeString(folder.resolve("job.yaml"), sheet);
        Tool.Result refused = tool.with(Map.of("HOOK", SECRET), "compare", "--sheet", "job.yaml");
        assertThat(refused.code()).as(refused.all()).isEqualTo(2);
        assertThat(refused.err()).contains("job.yaml, line 5", "job.yaml, line 6", "the variable HOOK would be sent");
        Files.writeString(folder.resolve("job.yaml"), sheet + "secrets: [HOOK]\n");
        Tool.Result declared = tool.with(Map.of("HOOK", SECRET), "compare", "--sheet", "job.yaml");
        assertThat(declared.code()).as(declared.all()).isEqualTo(1);
        assertThat(declared.err()).contains("POST to 127.0.0.1 was not sent", "mail to ***@b.c was not sent");
        assertThat(declared.all()).doesNotContain(SECRET);
        isNowhere(SECRET);
    }

    @Test
    void pipesFoldersAndDevicesAreNoFiles() throws Exception {
        Tool.process(folder, "", List.of("mkfifo", "pipe"));
        Files.createDirectory(folder.resolve("dir"));
        assertThat(tool.run("compare", one.address(), two.address()).code()).isEqualTo(1);
        for (String file : List.of("pipe", "dir", "/dev/zero")) {
            isRefused(tool.run("compare", "--sheet", file), 2);
            isRefused(tool.run("compare", "sqlite:" + file, two.address()), 3);
            isRefused(tool.run("compare", "duckdb:" + file, two.address()), 3);
            isRefused(tool.run("show", "--selection", file), 2);
            isRefused(tool.run("compare", "mariadb://127.0.0.1:1/x?password-file=" + file, two.address()), 2);
        }
        Path places = Path.of("places.yaml");
        Tool.process(folder, "", List.of("mkfifo", places.toString()));
        isRefused(tool.run("compare", one.address(), two.address()), 2);
    }

    @Test
    void environmentsThatLackWhatIsNeededAreSaidToInOneLine() throws Exception {
        Files.createDirectory(folder.resolve("größe"));
        Files.copy(folder.resolve("one.db"), folder.resolve("größe/ö.db"));
        Tool.Result bare = tool.with(
                Map.of("LC_ALL", "C", "LANG", "C"), "compare", "sqlite:größe/ö.db", two.address(), "--runs", "läufe");
        assertThat(bare.code()).as(bare.all()).isEqualTo(1);
        assertThat(folder.resolve("läufe")).isDirectory();
        for (String options : List.of(
                "-Xmx99999g", "-XX:+NoSuchOption", "-Djava.io.tmpdir=/nowhere", "-Djava.io.tmpdir=/proc/self")) {
            isRefused(tool.with(Map.of("JAVA_OPTS", options), "compare", one.address(), two.address()), 69);
        }
        assertThat(tool.with(Map.of("JAVA_OPTS", "-Xmx64m"), "compare", one.address(), two.address())
                        .code())
                .isEqualTo(1);
        Path old = Files.createDirectories(folder.resolve("java8/bin"));
        Files.writeString(folder.resolve("java8/release"), "JAVA_VERSION=\"1.8.0_402\"\n");
        Files.writeString(old.resolve("java"), "#!/bin/sh\nexit 1\n");
        Files.setPosixFilePermissions(old.resolve("java"), PosixFilePermissions.fromString("rwxr-xr-x"));
        isRefused(tool.with(Map.of("JAVA_HOME", folder.resolve("java8").toString()), "compare", "a:b", "c:d"), 69);
    }

    /** A part of a document, taken at random, becomes something else. */
    private static void damage(JsonNode root, Random random) {
        List<ContainerNode<?>> all = new ArrayList<>();
        List<JsonNode> waiting = new ArrayList<>(List.of(root));
        while (!waiting.isEmpty()) {
            JsonNode node = waiting.remove(waiting.size() - 1);
            if (node instanceof ContainerNode<?> container && node.size() > 0) {
                all.add(container);
                node.forEach(waiting::add);
            }
        }
        ContainerNode<?> at = all.get(random.nextInt(all.size()));
        List<JsonNode> others = List.of(
                JSON.nullNode(),
                JSON.createObjectNode(),
                JSON.createArrayNode().add(1),
                JSON.getNodeFactory().textNode("../../etc/passwd"),
                JSON.getNodeFactory().numberNode(-7));
        JsonNode other = others.get(random.nextInt(others.size()));
        if (at instanceof ObjectNode object) {
            List<String> names = new ArrayList<>();
            object.fieldNames().forEachRemaining(names::add);
            String name = names.get(random.nextInt(names.size()));
            if (random.nextInt(3) == 0) {
                object.remove(name);
            } else {
                object.set(name, other);
            }
        } else {
            ((ArrayNode) at).set(random.nextInt(at.size()), other);
        }
    }

    @Test
    void damagedRunFoldersAreToldInOneLine() throws Exception {
        long seed = Long.getLong("sharptally.seed", System.nanoTime());
        System.out.println("seed " + seed);
        Random random = new Random(seed);
        assertThat(tool.run("compare", one.address(), two.address(), "--limit-findings", "1")
                        .code())
                .isEqualTo(5);
        Path run = tool.latestRun();
        assertThat(tool.run("compare", one.address(), two.address()).code()).isEqualTo(1);
        Path whole = tool.latestRun();
        List<List<String>> commands = List.of(
                List.of("show", "RUN"),
                List.of("show", "RUN", "--overview"),
                List.of("script", "RUN", "--out", "s.sql"),
                List.of("apply", "RUN", "--yes", "--dry-run"),
                List.of("recheck", "RUN"),
                List.of("report", "RUN", "--out", "reports"),
                List.of("history"),
                List.of("compare", "--resume", "RUN"));
        for (int i = 0; i < 40; i++) {
            List<String> command = commands.get(random.nextInt(commands.size()));
            Path of = command.contains("--resume") ? run : whole;
            String name = List.of("run.json", "run.json", "matches.json", "journal.jsonl", "findings/gauge.jsonl")
                    .get(random.nextInt(5));
            Path file = of.resolve(name);
            byte[] before = Files.readAllBytes(file);
            String damaged = new String(before, StandardCharsets.UTF_8);
            if (random.nextInt(4) == 0) {
                damaged = damaged.substring(0, random.nextInt(damaged.length()));
            } else if (name.endsWith(".json")) {
                JsonNode tree = JSON.readTree(damaged);
                damage(tree, random);
                damaged = JSON.writeValueAsString(tree);
            } else {
                String[] lines = damaged.split("\n");
                JsonNode tree = JSON.readTree(lines[0]);
                damage(tree, random);
                lines[0] = JSON.writeValueAsString(tree);
                damaged = String.join("\n", lines) + "\n";
            }
            Files.writeString(file, damaged);
            Path kept = Files.createTempDirectory(folder, "kept");
            copy(of, kept.resolve("run"));
            Tool.Result result = tool.run(command.stream()
                    .map(w -> w.equals("RUN") ? of.toString() : w)
                    .toArray(String[]::new));
            String story = "seed " + seed + " " + command + " " + name + " " + damaged + "\n" + result.all();
            assertThat(result.code()).as(story).isIn(0, 1, 2, 3, 4, 5);
            assertThat(result.all()).as(story).doesNotContain("Exception", "\tat ", "root:");
            if (result.code() > 1) {
                assertThat(result.err().strip().lines().filter(l -> !l.contains("warning")))
                        .as(story)
                        .hasSizeLessThanOrEqualTo(2);
            }
            Files.write(file, before);
            if (command.contains("--resume") || command.contains("recheck")) {
                // What went on is taken back, so that each damage is met alone.
                Soak.delete(of);
                copy(kept.resolve("run"), of);
                Files.write(file, before);
            }
        }
    }

    private static void copy(Path from, Path to) throws IOException {
        try (Stream<Path> files = Files.walk(from)) {
            for (Path file : files.toList()) {
                Files.copy(file, to.resolve(from.relativize(file).toString()));
            }
        }
    }

    @Test
    void applyLeavesWhatTakesItBack() throws Exception {
        List<String> columns = List.of("id", "level", "note");
        List<String> before = two.exactRows("gauge", columns);
        assertThat(tool.run("compare", one.address(), two.address()).code()).isEqualTo(1);
        Path run = tool.latestRun();
        Tool.Result applied = tool.run("apply", "--yes");
        assertThat(applied.code()).as(applied.all()).isZero();
        Path undo = run.resolve("undo-apply.sql");
        assertThat(applied.out()).contains("undo    " + undo);
        assertThat(tool.run("script", run.toString(), "--verify", undo.toString())
                        .code())
                .isZero();
        assertThat(two.exactRows("gauge", columns)).isEqualTo(one.exactRows("gauge", columns));
        Tool.Result undone = two.runScript(undo);
        assertThat(undone.code()).as(undone.all()).isZero();
        assertThat(undone.out()).contains("2 changes made and committed");
        assertThat(two.exactRows("gauge", columns)).isEqualTo(before);
        assertThat(Set.of(2, 4))
                .contains(tool.run("apply", "--yes", run.toString(), "--commit-every", "0")
                        .code());
    }
}
