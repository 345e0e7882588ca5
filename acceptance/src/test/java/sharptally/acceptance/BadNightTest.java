package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
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
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.junit.jupiter.params.provider.ValueSource;

/** A bad night: pipes, environments, servers and run folders that are broken, and what is written in spite of it. */
@InTurn(3)
class BadNightTest extends TwoDatabases {
    @Test
    void pipesFoldersAndDevicesAreNoFiles() throws Exception {
        Tool.process(folder, "", List.of("mkfifo", "pipe"));
        Files.createDirectory(folder.resolve("dir"));
        assertThat(tool.run("compare", one.address(), two.address()).code()).isEqualTo(1);
        for (String file : List.of("pipe", "dir", "/dev/zero")) {
            isRefused(tool.run("compare", "--job", file), 2);
            isRefused(tool.run("compare", "sqlite:" + file, two.address()), 3);
            isRefused(tool.run("compare", "duckdb:" + file, two.address()), 3);
            isRefused(tool.run("show", "--selection", file), 2);
            isRefused(tool.run("compare", "mariadb://127.0.0.1:1/x?password-file=" + file, two.address()), 2);
        }
        Path places = Path.of("connections.yaml");
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
        long seed = Seed.next();
        System.out.println("seed " + seed);
        Random random = new Random(seed);
        assertThat(tool.run("compare", one.address(), two.address(), "--stop-after-findings", "1")
                        .code())
                .isEqualTo(5);
        Path run = tool.latestRun();
        assertThat(tool.run("compare", one.address(), two.address()).code()).isEqualTo(1);
        Path whole = tool.latestRun();
        List<List<String>> commands = List.of(
                List.of("show", "RUN"),
                List.of("show", "RUN", "--view", "result"),
                List.of("script", "RUN", "--out", "s.sql"),
                List.of("apply", "RUN", "--yes", "--dry-run"),
                List.of("recheck", "RUN"),
                List.of("report", "RUN", "--out-folder", "reports"),
                List.of("history"),
                List.of("compare", "--resume", "RUN"));
        for (int i = 0; i < 40 * Integer.getInteger("sharptally.rounds", 1); i++) {
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
            Tool.Result result = new Tool(folder)
                    .run(command.stream()
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

    /** A server that takes connections and says nothing more. */
    @ParameterizedTest
    @ValueSource(
            strings = {
                "postgresql://tide@127.0.0.1:PORT/x?driver.loginTimeout=1",
                "mariadb://tide@127.0.0.1:PORT/x?driver.connectTimeout=1000"
            })
    void aServerThatSaysNothingIsGivenUp(String address) throws Exception {
        try (java.net.ServerSocket mute = new java.net.ServerSocket(0)) {
            String bare = address.replace("PORT", String.valueOf(mute.getLocalPort()));
            // It waits for half a minute unless told otherwise, which nobody needs to see each time.
            String told = Boolean.getBoolean("sharptally.all") ? bare.replaceAll("\\?.*", "") : bare;
            Tool.Result given = CompletableFuture.supplyAsync(
                            () -> Tool.apart(folder).run("survey", told))
                    .get(50, TimeUnit.SECONDS);
            isRefused(given, 3);
        }
    }

    @Test
    void whatIsWrittenIsForItsOwnerUnlessAskedOtherwise() throws Exception {
        one.execute("UPDATE gauge SET level = 9");
        assertThat(tool.run("compare", one.address(), two.address()).code()).isEqualTo(1);
        for (String mask : List.of("077", "022")) {
            Path out = Files.createDirectory(folder.resolve("out" + mask));
            List<List<String>> commands = List.of(
                    List.of("script", "--out", out + "/change.sql"),
                    List.of("report", "--format", "html,md,junit,csv", "--out-folder", out + "/report"),
                    List.of("checksum", one.address() + "#gauge", "--out", out + "/gauge.sums"),
                    List.of("draft", one.address(), two.address(), "--out", out + "/job.yaml"));
            for (List<String> command : commands) {
                List<String> whole = new ArrayList<>(List.of("env", "SHARP_TALLY_UMASK=" + mask));
                if (mask.equals("077")) {
                    whole.remove(1);
                }
                whole.add(Tool.home().resolve("bin/sharp-tally").toString());
                whole.addAll(command);
                Tool.Result done = Tool.process(folder, "", whole);
                assertThat(done.code()).as(command + done.all()).isLessThan(2);
            }
            try (Stream<Path> written = Files.walk(out)) {
                assertThat(written.filter(Files::isRegularFile))
                        .hasSizeGreaterThan(6)
                        .allSatisfy(
                                file -> assertThat(PosixFilePermissions.toString(Files.getPosixFilePermissions(file)))
                                        .as(file.toString())
                                        .isEqualTo(mask.equals("077") ? "rw-------" : "rw-r--r--"));
            }
        }
    }

    /** Characters that XML and many readers of CSV do not take are marked, and those of values are told exactly. */
    @Test
    void controlCharactersBreakNoReport() throws Exception {
        for (Database side : List.of(one, two)) {
            side.execute(
                    "CREATE TABLE \"ga\u0001uge\u001b[31m\" (id INTEGER PRIMARY KEY, \"no\u0002te\" TEXT)",
                    "INSERT INTO \"ga\u0001uge\u001b[31m\" VALUES (1, 'a' || char(1) || '\\b')");
        }
        two.execute("UPDATE \"ga\u0001uge\u001b[31m\" SET \"no\u0002te\" = 'a\\u0001b'");
        assertThat(tool.run("compare", one.address(), two.address()).code()).isEqualTo(1);
        assertThat(tool.run("report", "--format", "junit,md,html,csv", "--out-folder", "out")
                        .code())
                .isZero();
        var xml = javax.xml.parsers.DocumentBuilderFactory.newInstance()
                .newDocumentBuilder()
                .parse(folder.resolve("out/report.xml").toFile());
        assertThat(xml.getElementsByTagName("failure").getLength()).isPositive();
        Tool.Result csv = tool.run("show", "--format", "csv");
        assertThat(csv.out())
                .contains("text-escaped,a\\u0001\\\\b,text,a\\u0001b")
                .doesNotContainPattern("[\\x00-\\x08\\x0B-\\x1F]");
    }

    @Test
    void anAuditThatWasChangedIsNotBelieved() throws Exception {
        two.execute("UPDATE gauge SET level = 9");
        assertThat(tool.run("compare", one.address(), two.address()).code()).isEqualTo(1);
        for (int i = 0; i < 3; i++) {
            assertThat(tool.run("script").code()).isZero();
        }
        Path run = tool.latestRun();
        Path audit = run.resolve("audit.jsonl");
        List<String> lines = Files.readAllLines(audit);
        String[] verify = {
            "script", run.toString(), "--verify", run.resolve("script.sql").toString()
        };
        assertThat(tool.run(verify).code()).isZero();
        // Whichever run is the latest by then.
        assertThat(tool.run("compare", one.address(), two.address()).code()).isEqualTo(1);
        assertThat(tool.run(verify[0], verify[2], verify[3]).code()).isZero();
        List<List<String>> forged = List.of(
                List.of(lines.get(0), lines.get(2)),
                List.of(lines.get(1), lines.get(2)),
                List.of(
                        lines.get(0).replaceFirst("\"user\":\"[^\"]*", "\"user\":\"somebody"),
                        lines.get(1),
                        lines.get(2)),
                List.of(lines.get(1), lines.get(0), lines.get(2)));
        for (List<String> other : forged) {
            Files.write(audit, other);
            Tool.Result told = tool.run(verify);
            isRefused(told, 4);
            assertThat(told.err()).contains("the audit was changed");
        }
    }

    @ParameterizedTest
    @EnumSource(names = {"POSTGRESQL", "MARIADB"})
    void aScriptStopsInAnotherDatabase(Database.Kind kind) throws Exception {
        Database source = new Database(kind, folder, "src");
        Database target = new Database(kind, folder, "tgt");
        Database copy = new Database(kind, folder, "copy");
        for (Database side : List.of(source, target, copy)) {
            side.execute(
                    "CREATE TABLE gauge (id INTEGER PRIMARY KEY, level INTEGER)", "INSERT INTO gauge VALUES (1, 1)");
        }
        source.execute("UPDATE gauge SET level = 2");
        assertThat(tool.run("compare", source.address(), target.address()).code())
                .isEqualTo(1);
        for (String more : List.of("--style=row", "--style=merge", "--no-guards")) {
            assertThat(tool.run("script", more).code()).isZero();
            Path script = tool.latestRun().resolve("script.sql");
            Tool.Result elsewhere = copy.runScript(script);
            assertThat(elsewhere.code()).as(more).isNotZero();
            assertThat(elsewhere.all()).contains("not the database that was compared");
            assertThat(copy.values("SELECT level FROM gauge")).containsExactly("1");
        }
        assertThat(target.runScript(tool.latestRun().resolve("script.sql")).code())
                .isZero();
        assertThat(target.values("SELECT level FROM gauge")).containsExactly("2");
    }
}
