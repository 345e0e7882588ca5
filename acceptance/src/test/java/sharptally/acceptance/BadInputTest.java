package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.SQLException;
import java.util.List;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Whatever is wrong, the user gets one line that says what, where and how to mend it, and the documented exit code. */
class BadInputTest {
    @TempDir
    Path folder;

    private Tool tool;

    @BeforeEach
    void places() throws Exception {
        tool = new Tool(folder);
        new Database(Database.Kind.SQLITE, folder, "a")
                .execute("CREATE TABLE s (id INTEGER PRIMARY KEY, v TEXT)", "INSERT INTO s VALUES (1, 'a'), (2, 'b')");
        new Database(Database.Kind.SQLITE, folder, "b")
                .execute("CREATE TABLE s (id INTEGER PRIMARY KEY, v TEXT)", "INSERT INTO s VALUES (1, 'a'), (2, 'c')");
        new Database(Database.Kind.SQLITE, folder, "e").execute("CREATE TABLE q (id INTEGER)");
        new Database(Database.Kind.H2, folder, "h").execute("CREATE TABLE S (ID INT PRIMARY KEY, V INT ARRAY)");
        Files.writeString(folder.resolve("text.db"), "this is not a database at all");
        Files.writeString(
                folder.resolve("typo.yaml"), "job: 1\nsource: sqlite:a.db\ntarget: sqlite:b.db\nmatchs: []\n");
        Files.writeString(folder.resolve("broken.yaml"), "job: 1\nsource: \"sqlite:a.db\n");
        Files.writeString(folder.resolve("noplace.yaml"), "job: 1\nsource: sqlite:a.db\n");
        Files.createDirectories(folder.resolve("garbled"));
        Files.writeString(folder.resolve("garbled/run.json"), "{");
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "compare sqlite:none.db sqlite:b.db | 3 | no such file: sqlite:none.db (/",
                "compare sqlite:text.db sqlite:b.db | 3 | not a SQLite database",
                "compare h2:none sqlite:b.db        | 3 | no such file: h2:none",
                "compare a.db sqlite:b.db           | 2 | not an address: a.db; write engine:location",
                "compare ora:x sqlite:b.db          | 2 | no engine of this name: ora:x; there are: postgresql, mariadb",
                "compare sqlite:a.db#no sqlite:b.db | 2 | no such table: sqlite:a.db#no; there are: s",
                "compare sqlite:a.db sqlite:e.db    | 2 | no table of the source has a counterpart",
                "compare sqlite:a.db sqlite:b.db --key no       | 2 | no such column: s.no (there are id, v)",
                "compare sqlite:a.db sqlite:b.db --leave-out-column no | 2 | no table has this column: no",
                "compare sqlite:a.db sqlite:b.db --bogus        | 2 | Unknown option: '--bogus'; see sharp-tally compare --help",
                "compare sqlite:a.db                | 2 | two databases are needed",
                "compare --job typo.yaml          | 2 | typo.yaml, line 4, column 1: no such key: matchs",
                "compare --job typo.yaml          | 2 | did you mean matches?",
                "compare sqlite:a.db sqlite:b.db --table no*     | 2 | there is nothing to compare",
                "compare sqlite:a.db sqlite:b.db --workers 0    | 2 | --workers should be from 1 to 99, not 0",
                "totals sqlite:a.db sqlite:b.db --by no         | 2 | not worked out: rows can't be grouped by a column that is not compared: s.no",
                "totals sqlite:a.db sqlite:b.db --figure summ       | 2 | no such figure: summ: totals; there are rows, filled",
                "totals sqlite:a.db --expect rows               | 2 | not an expectation: rows: totals; write one such as",
                "totals sqlite:a.db#s --expect sum(v)>1         | 2 | a column of this type has no sum: sum(v)>1, s.v is TEXT",
                "totals sqlite:a.db#s --expect min(no)>1        | 2 | an expectation names no column of the table",
                "draft sqlite:a.db sqlite:b.db --pair x=y       | 2 | a pair finds no two tables: x=y; check --pair",
                "draft sqlite:a.db                              | 2 | two databases are needed",
                "draft --update none.yaml                       | 2 | no such file: none.yaml; check the path",
                "show --view totals --runs garbled                   | 2 | there is no run yet",
                "compare --job broken.yaml        | 2 | broken.yaml, line 3, column 1: not YAML: found unexpected end of stream",
                "compare --job noplace.yaml       | 2 | a job file needs a target",
                "compare --job none.yaml          | 2 | no such file: none.yaml",
                "compare sqlite:a.db sqlite:b.db --runs text.db | 5 | can't write the run folder",
                "shw                                | 2 | did you mean show?",
                "show                               | 2 | there is no run yet",
                "show garbled                       | 2 | can't read the run folder: garbled",
                "show folderless                    | 2 | not a run folder: folderless (it has no run.json)",
                "script garbled                     | 2 | can't read the run folder",
                "apply --yes                        | 2 | --yes wants the run named",
                "apply --job s.yaml --yes         | 2 | there is no run yet",
                "compare sqlite:a.db?mode=ro sqlite:b.db | 2 | no such option of an address: mode",
                "survey sqlite:a.db#no              | 2 | no such table",
                "demo --size 5                      | 2 | too few rows for the demo",
                "demo --out-folder garbled              | 4 | the folder exists and is not of an earlier demo",
            })
    void oneClearLineAndTheDocumentedCode(String arguments, int code, String message) {
        Tool.Result result = tool.run(arguments.split(" +"));
        assertThat(result.code()).as(result.all()).isEqualTo(code);
        assertThat(result.err()).startsWith("sharp-tally: ").contains(message);
        assertThat(result.err().lines()).hasSize(1);
        assertThat(result.out()).isEmpty();
    }

    /** Names may hold what moves a cursor or changes colours; whatever is said of them, it is seen and not obeyed. */
    @Test
    void noNameSteersTheTerminal() throws Exception {
        String hostile = "x\u001b[31m\u0007y";
        Files.writeString(
                folder.resolve("hostile.yaml"), "job: 1\n\"x\\e[31my\": 1\nsource: sqlite:a.db\ntarget: sqlite:b.db\n");
        Files.writeString(folder.resolve("hostile.csv"), "id,v\n1,a\n\u001b[2J\n");
        Files.writeString(folder.resolve("hostile.sql"), "CREATE TABLE s (id int);\nEXEC '\u001b[2J';\n");
        for (String[] command : List.of(
                new String[] {"compare", "sqlite:a.db#" + hostile, "sqlite:b.db"},
                new String[] {"compare", "sqlite:" + hostile, "sqlite:b.db"},
                new String[] {"compare", hostile + ":a", "sqlite:b.db"},
                new String[] {"compare", "sqlite:a.db", "sqlite:b.db", "--key", hostile},
                new String[] {"compare", "sqlite:a.db", "sqlite:b.db", "--where", hostile},
                new String[] {"compare", "sqlite:a.db", "sqlite:b.db", "--" + hostile},
                new String[] {"compare", "sqlite:a.db", "sqlite:b.db", "--workers", hostile},
                new String[] {hostile},
                new String[] {"show", hostile},
                new String[] {"compare", "--job", "hostile.yaml"},
                new String[] {"compare", "csv:hostile.csv", "sqlite:b.db#s"},
                new String[] {"compare", "dump:hostile.sql", "sqlite:b.db#s"},
                new String[] {"kept", "--remove", hostile})) {
            Tool.Result result = tool.run(command);
            assertThat(result.code()).as(result.all()).isGreaterThan(1);
            assertThat(result.all().replace("\n", ""))
                    .as(String.join(" ", command))
                    .doesNotContainPattern("\\p{Cntrl}");
        }
    }

    @Test
    void columnThatCantBeComparedIsNamedAndProvesNothingUntilLeftOut() {
        Tool.Result result = tool.run("compare", "sqlite:a.db", "h2:h");
        assertThat(result.code()).as(result.all()).isEqualTo(5);
        assertThat(result.out()).contains("NOT COMPARED: column v: no faithful way to compare TEXT with ARRAY");
        assertThat(result.out()).doesNotContain("same:");
        Tool.Result agreed = tool.run("compare", "sqlite:a.db", "h2:h", "--leave-out-column", "v");
        assertThat(agreed.code()).as(agreed.all()).isEqualTo(1);
        assertThat(agreed.out()).contains("s.v was left out on request");
    }

    @Test
    void repeatedKeysAreToldAndComparedWithin() throws SQLException {
        new Database(Database.Kind.SQLITE, folder, "a")
                .execute("CREATE TABLE r (k INT, v TEXT)", "INSERT INTO r VALUES (1, 'x'), (1, 'y'), (2, 'z')");
        new Database(Database.Kind.SQLITE, folder, "b")
                .execute("CREATE TABLE r (k INT, v TEXT)", "INSERT INTO r VALUES (1, 'y'), (1, 'y'), (2, 'z')");
        Tool.Result result = tool.run("compare", "sqlite:a.db#r", "sqlite:b.db#r", "--key", "k");
        assertThat(result.code()).isEqualTo(1);
        assertThat(result.out()).contains("0 changed, 1 missing, 1 extra, 1 repeated key");
        assertThat(tool.run("apply", "--yes").code()).isEqualTo(1);
        assertThat(tool.run("compare", "sqlite:a.db#r", "sqlite:b.db#r").code()).isZero();
    }

    @Test
    void unconfirmedApplyChangesNothing() {
        tool.run("compare", "sqlite:a.db", "sqlite:b.db");
        assertThat(tool.runWithInput("a.db\n", "apply").code()).isEqualTo(4);
        assertThat(tool.run("compare", "sqlite:a.db", "sqlite:b.db").code()).isEqualTo(1);
        assertThat(tool.runWithInput("b.db\n", "apply").code()).isZero();
    }

    @Test
    void diskFullLeavesNoRunThatLooksComplete() {
        Database many = new Database(Database.Kind.SQLITE, folder, "many");
        fill(many, 200_000);
        // A limit on the size of files stands for a full disk.
        String command = "ulimit -f 2000; exec " + Tool.home().resolve("bin/sharp-tally")
                + " compare sqlite:many.db#t sqlite:e.db#q";
        Tool.Result result = Tool.process(folder, "", List.of("bash", "-c", command));
        assertThat(result.code()).as(result.all()).isEqualTo(5);
        assertThat(result.all()).contains("can't write the run folder");
        assertThat(tool.run("show", "--limit", "1").code()).isEqualTo(5);
        assertThat(tool.run("script").code()).isEqualTo(4);
        assertThat(tool.run("apply", "--yes").code()).isEqualTo(4);
    }

    @ParameterizedTest
    @CsvSource({"INT, 5", "KILL, 137"})
    void interruptedRunSaysThatItProvesNothing(String signal, int code) throws Exception {
        fill(new Database(Database.Kind.SQLITE, folder, "many"), 3_000_000);
        Process process = new ProcessBuilder(
                        Tool.home().resolve("bin/sharp-tally").toString(),
                        "compare",
                        "sqlite:many.db",
                        "sqlite:many.db")
                .directory(folder.toFile())
                .redirectErrorStream(true)
                .start();
        Path runs = folder.resolve("sharp-tally-runs");
        for (int i = 0; i < 200 && !(Files.exists(runs) && runOf(runs)); i++) {
            Thread.sleep(50);
        }
        Thread.sleep(300);
        new ProcessBuilder("kill", "-" + signal, Long.toString(process.pid()))
                .start()
                .waitFor();
        assertThat(process.waitFor(20, TimeUnit.SECONDS)).isTrue();
        String said = new String(process.getInputStream().readAllBytes(), java.nio.charset.StandardCharsets.UTF_8);
        assertThat(process.exitValue()).as(said).isEqualTo(code);
        if (signal.equals("INT")) {
            assertThat(said)
                    .contains("stopped as asked; 0 of 1 table finished")
                    .contains("next  sharp-tally compare --resume " + folder.relativize(tool.latestRun()));
        }
        assertThat(Files.readString(tool.latestRun().resolve("run.json"))).contains("\"state\" : \"incomplete\"");
        assertThat(tool.run("show").code()).isEqualTo(5);
    }

    private boolean runOf(Path runs) throws IOException {
        try (var list = Files.list(runs)) {
            return list.anyMatch(run -> Files.exists(run.resolve("run.json")));
        }
    }

    private static void fill(Database database, int rows) {
        try {
            database.execute(
                    "CREATE TABLE t (id INTEGER PRIMARY KEY, v TEXT)",
                    "WITH RECURSIVE n (i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < " + rows + ")"
                            + " INSERT INTO t SELECT i, 'row ' || i FROM n");
        } catch (SQLException e) {
            throw new IllegalStateException(e);
        }
    }

    @Test
    void allThatIsWrongWithTheMatchesOfAJobFileIsToldAtOnce() throws Exception {
        Files.writeString(folder.resolve("wrong.yaml"), """
                job: 1
                source: sqlite:a.db
                target: sqlite:b.db
                matches:
                  - {source: nowhere}
                  - {name: one, source: s, key: [id], leave-out: [id, bogus]}
                  - {name: two, source: s, columns: [{source: v, decimals: 2}, {source: id, within: 1}]}
                  - {name: three, source: s, where: {source: "v +"}}
                  - {name: four, source: s, columns: [{source: w, read: {source: "sqrt("}}]}
                  - {name: five, source: {query: "SELECT nothing"}, target: s}
                  - {source: "x*", target: "y*"}
                  - {source: s}
                  - {source: s}
                """);
        Tool.Result refused = tool.run("compare", "--job", "wrong.yaml");
        assertThat(refused.code()).isEqualTo(2);
        assertThat(refused.out()).isEmpty();
        assertThat(refused.err().lines().map(String::strip).toList())
                .anySatisfy(l -> assertThat(l).isEqualTo("sharp-tally: 10 problems"))
                .anySatisfy(l -> assertThat(l).isEqualTo("a pattern finds no pair of tables: x* > y*"))
                .anySatisfy(l -> assertThat(l).startsWith("no such table: sqlite:a.db#nowhere; there are: s"))
                .anySatisfy(l -> assertThat(l).startsWith("match one: no such column: s.bogus (there are id, v)"))
                .anySatisfy(l -> assertThat(l).startsWith("match one: key column is left out: s.id"))
                .anySatisfy(l -> assertThat(l).startsWith("match two: rule decimals does not fit column two.v"))
                .anySatisfy(l -> assertThat(l)
                        .startsWith("match two: rule within can't be followed in two.id, which is in the key"))
                .anySatisfy(
                        l -> assertThat(l).startsWith("match three: the database refused an expression: s, where ("))
                .anySatisfy(
                        l -> assertThat(l).startsWith("match four: the database refused an expression: s, column w ("))
                .anySatisfy(
                        l -> assertThat(l).startsWith("match five: the database refused an expression: five, query ("))
                .anySatisfy(l -> assertThat(l).startsWith("the same two tables are matched twice: s and s"));
        assertThat(folder.resolve("sharp-tally-runs")).doesNotExist();
    }

    @Test
    void oneMatchThatFailsKeepsNoOtherFromBeingCompared() throws Exception {
        new Database(Database.Kind.H2, folder, "src")
                .execute(
                        "CREATE TABLE A (ID INT PRIMARY KEY, V INT)",
                        "INSERT INTO A VALUES (1, 0)",
                        "CREATE TABLE B (ID INT PRIMARY KEY)");
        new Database(Database.Kind.H2, folder, "tgt")
                .execute("CREATE TABLE A (ID INT PRIMARY KEY, V INT)", "CREATE TABLE B (ID INT PRIMARY KEY)");
        Files.writeString(folder.resolve("fails.yaml"), """
                job: 1
                source: h2:src
                target: h2:tgt
                workers: 2
                matches:
                  - {source: A, columns: [{source: V, read: {source: 7 / V}}]}
                  - {source: B}
                """);
        Tool.Result compared = tool.run("compare", "--job", "fails.yaml");
        assertThat(compared.code()).as(compared.all()).isEqualTo(3);
        assertThat(compared.out()).contains("not finished: A: ", "1 table not proved either way");
        assertThat(compared.lines()).anySatisfy(l -> assertThat(l).matches("B +0 +0 +0 .*"));
    }
}
