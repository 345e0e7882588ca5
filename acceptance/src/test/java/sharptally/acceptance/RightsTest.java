package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** With the rights that docs/rights.md gives, everything is found and done; with any one of them less, it is told. */
class RightsTest {
    private static final List<String> METHODS = List.of("auto", "stream", "checksum");

    @TempDir
    Path folder;

    private Database source;
    private Database target;
    private String suffix;

    /** The statements of a section, for a database of the test. */
    private List<String> statements(String section, Database database) throws Exception {
        Matcher block = Pattern.compile("## " + section + "\\n```sql\\n(.*?)```", Pattern.DOTALL)
                .matcher(Files.readString(Path.of("../docs/rights.md")));
        assertThat(block.find()).as(section).isTrue();
        String name = database.address().replaceFirst(".*/", "");
        return Arrays.stream(block.group(1).split(";\\n"))
                .map(sql ->
                        sql.replaceAll("\\barchive\\b", name).replaceAll("tide_(reader|writer)", "tide_$1" + suffix))
                .toList();
    }

    /** Grants in a database what it does not have yet; users are of the whole server. */
    private List<String> grant(String section, Database database, boolean first) throws Exception {
        List<String> all = statements(section, database);
        database.execute(
                all.stream().filter(sql -> first || !sql.startsWith("CREATE")).toArray(String[]::new));
        return all.stream().filter(sql -> sql.startsWith("GRANT")).toList();
    }

    private static String taken(String grant) {
        return grant.replaceFirst("GRANT", "REVOKE").replaceFirst(" TO (\\S+)$", " FROM $1");
    }

    private String as(String user, Database database) {
        return database.address().replaceFirst("//[^@]*@", "//tide_" + user + suffix + "@");
    }

    /** The password that the statements give, where a server wants one. */
    private String asked(String address, String table) {
        return address + (address.startsWith("mariadb") ? "?password-file=secret" : "") + table;
    }

    private void fill() throws Exception {
        boolean postgres = source.kind() == Database.Kind.POSTGRESQL;
        if (!postgres) {
            source.lookAtRights();
        }
        for (Database side : List.of(source, target)) {
            side.execute(
                    "CREATE TABLE station (code VARCHAR(9) PRIMARY KEY, name VARCHAR(40))",
                    "CREATE TABLE reading (id " + (postgres ? "SERIAL" : "INT AUTO_INCREMENT")
                            + " PRIMARY KEY, station VARCHAR(9) REFERENCES station (code), level DECIMAL(8, 3))",
                    "INSERT INTO station VALUES ('A', 'Northquay'), ('B', 'Holm')");
            for (int i = 0; i < 4; i++) {
                side.execute("INSERT INTO reading (station, level) VALUES " + "('A', 1.5), ".repeat(99) + "('B', 2)");
            }
            if (postgres) {
                // Nothing is left to everybody.
                String name = side.address().replaceFirst(".*/", "");
                side.execute(
                        "REVOKE ALL ON DATABASE " + name + " FROM PUBLIC", "REVOKE ALL ON SCHEMA public FROM PUBLIC");
            }
        }
        target.execute(
                "UPDATE reading SET level = -1 WHERE id = 7",
                "DELETE FROM reading WHERE id > 398",
                "INSERT INTO station VALUES ('C', 'Sund')",
                "UPDATE station SET name = 'Ness' WHERE code = 'B'");
        if (postgres) {
            target.execute("SELECT setval('reading_id_seq', 398)");
        }
    }

    @ParameterizedTest
    @EnumSource(
            value = Database.Kind.class,
            names = {"POSTGRESQL", "MARIADB"})
    void theyAreEnoughAndNoneIsTooMuch(Database.Kind kind) throws Exception {
        source = new Database(kind, folder, "one");
        target = new Database(kind, folder, "two");
        suffix = "_" + Integer.toHexString(folder.hashCode());
        fill();
        String engine = kind == Database.Kind.POSTGRESQL ? "PostgreSQL" : "MariaDB";
        Tool tool = new Tool(folder);
        Path secret = Files.writeString(folder.resolve("secret"), "set another");
        Files.setPosixFilePermissions(secret, PosixFilePermissions.fromString("rw-------"));
        assertThat(tool.run("compare", source.address(), target.address()).code())
                .isEqualTo(1);
        List<String> plain = tool.findings();
        assertThat(plain).hasSize(5);

        List<String> grants = grant(engine + ": reads", source, true);
        grant(engine + ": reads", target, false);
        String from = as("reader", source);
        String to = as("reader", target);
        for (String method : METHODS) {
            Tool.Result compared = tool.run("compare", asked(from, ""), asked(to, ""), "--method", method);
            assertThat(compared.code()).as(method + compared.all()).isEqualTo(1);
            assertThat(tool.findings()).as(method + compared.all()).isEqualTo(plain);
        }
        String run = tool.latestRun().toString();
        for (List<String> command : List.of(
                List.of("survey", asked(from, "")),
                List.of("survey", asked(from, "#reading")),
                List.of("draft", asked(from, ""), asked(to, ""), "--out", "draft.yaml"),
                List.of("checksum", asked(from, "#reading")))) {
            Tool.Result done = tool.run(command.toArray(String[]::new));
            assertThat(done.code()).as(command + done.all()).isZero();
        }
        assertThat(tool.run("totals", asked(from, ""), asked(to, "")).code()).isEqualTo(1);
        assertThat(tool.run("recheck", run).code()).isEqualTo(1);
        // Less than that is no other answer.
        for (String grant : grants) {
            source.execute(taken(grant));
            Tool.Result less = tool.run("compare", asked(from, ""), asked(to, ""));
            boolean told = less.code() > 1 || less.all().contains("only in the target");
            assertThat(told && less.code() != 0).as(grant + less.all()).isTrue();
            source.execute(grant);
        }
        changes(tool, engine, plain);
    }

    private void changes(Tool tool, String engine, List<String> plain) throws Exception {
        List<String> before = everything();
        Tool.Result compared = tool.run("compare", asked(as("reader", source), ""), asked(as("reader", target), ""));
        assertThat(compared.code()).as(compared.all()).isEqualTo(1);
        Tool.Result refused = tool.run("apply", tool.latestRun().toString(), "--yes");
        assertThat(refused.code()).as(refused.all()).isGreaterThan(1);
        assertThat(everything()).isEqualTo(before);

        List<String> grants = grant(engine + ": changes", target, true);
        for (String grant : grants) {
            String run = scripted(tool, plain);
            target.execute(taken(grant));
            Tool.Result applied = tool.run("apply", run, "--yes");
            Tool.Result scripted = client(Path.of(run, "script.sql"));
            // What only scripts need, or only what is told, stops one of the two, or changes nothing.
            String story = grant + applied.all() + scripted.all();
            assertThat(applied.code() + scripted.code()).as(story).isPositive();
            target.execute(grant);
            if (applied.code() == 0 || scripted.code() == 0) {
                assertThat(client(Path.of(run, applied.code() == 0 ? "undo-apply.sql" : "undo.sql"))
                                .code())
                        .as(story)
                        .isZero();
            }
            assertThat(everything()).as(story).isEqualTo(before);
        }
        for (String way : List.of("apply", "script")) {
            String run = scripted(tool, plain);
            Tool.Result done =
                    way.equals("apply") ? tool.run("apply", run, "--yes") : client(Path.of(run, "script.sql"));
            assertThat(done.code()).as(done.all()).isZero();
            Tool.Result left = tool.run("compare", source.address(), target.address());
            assertThat(left.code()).as(done.all() + left.all()).isZero();
            assertThat(client(Path.of(run, way.equals("apply") ? "undo-apply.sql" : "undo.sql"))
                            .code())
                    .isZero();
            assertThat(everything()).isEqualTo(before);
        }
    }

    /** A run with a script of what it found. */
    private String scripted(Tool tool, List<String> plain) throws Exception {
        Tool.Result compared = tool.run("compare", source.address(), asked(as("writer", target), ""));
        assertThat(compared.code()).as(compared.all()).isEqualTo(1);
        assertThat(tool.findings()).isEqualTo(plain);
        String run = tool.latestRun().toString();
        assertThat(tool.run("script", run).code()).isZero();
        return run;
    }

    private List<String> everything() throws Exception {
        List<String> all = new ArrayList<>(target.rows("station", List.of("code", "name")));
        all.addAll(target.rows("reading", List.of("id", "station", "level")));
        return all;
    }

    /** The engine's own client, as the user that changes. */
    private Tool.Result client(Path script) throws Exception {
        Matcher parts = Pattern.compile("//([^@]*)@([^:]*):(\\d+)/(.*)").matcher(as("writer", target));
        assertThat(parts.find()).isTrue();
        return source.kind() == Database.Kind.POSTGRESQL
                ? Tool.process(folder, "", List.of("psql", "-q", "-d", as("writer", target), "-f", script.toString()))
                : Tool.process(
                        folder,
                        Files.readString(script),
                        List.of(
                                "mariadb",
                                "--protocol=tcp",
                                "-h" + parts.group(2),
                                "-P" + parts.group(3),
                                "-u" + parts.group(1),
                                "-pset another",
                                parts.group(4)));
    }
}
