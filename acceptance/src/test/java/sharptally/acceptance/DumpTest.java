package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import java.util.TreeMap;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import sharptally.acceptance.Database.Kind;

/** Dumps that the databases' own programs wrote: what was lost since is found, and comes back. */
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
        long seed = Long.getLong("sharptally.seed", System.nanoTime());
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
            for (int i = 0; i < 4; i++) {
                byte[] whole = Files.readAllBytes(dump);
                Path cut = folder.resolve("cut.sql");
                // Nothing but blanks and comments stands behind the closing line.
                Files.write(cut, Arrays.copyOf(whole, random.nextInt(whole.length - 90)));
                Tool.Result result = tool.run("compare", "dump:cut.sql", target.address());
                assertThat(result.code()).as(story + "\n" + result.all()).isEqualTo(3);
                assertThat(result.out()).doesNotContain("same:");
            }
        }
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
                for (String form : List.of("--no-owner", "--inserts", "--column-inserts")) {
                    files.add(run("pg_dump", form, "-h", address[1], "-p", address[2], "-U", address[0], address[3]));
                }
            }
            case MARIADB -> {
                for (String form : List.of("--quick", "--hex-blob", "--skip-extended-insert", "--complete-insert")) {
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
        Path file = folder.resolve(command[0] + command[1].replace("/", "") + ".sql");
        Process process = new ProcessBuilder(command)
                .redirectOutput(file.toFile())
                .redirectError(ProcessBuilder.Redirect.INHERIT)
                .start();
        assertThat(process.waitFor()).as(String.join(" ", command)).isZero();
        return file;
    }
}
