package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import sharptally.acceptance.Database.Kind;

/** What each engine says of its tables: under names that need quoting, and of indexes that are no keys. */
class CatalogueTest {
    private static final List<String> NAMES = List.of(
            "select", "with space", "dot.ted", "per%cent", "under_score", "quo\"te", "back`tick", "Ærø 霧", "a'b");

    @TempDir
    Path folder;

    private Map<String, JsonNode> compared(Tool tool, Database source, Database target, String... more)
            throws Exception {
        List<String> command =
                new ArrayList<>(List.of("compare", source.address(), target.address(), "--format", "json"));
        command.addAll(List.of(more));
        Tool.Result result = tool.run(command.toArray(new String[0]));
        assertThat(result.out()).as(result.all()).startsWith("{");
        Map<String, JsonNode> matches = new HashMap<>();
        result.json()
                .get("run")
                .get("matches")
                .forEach(m -> matches.put(m.get("name").asText(), m));
        return matches;
    }

    @ParameterizedTest
    @EnumSource(value = Kind.class, names = "POSTGRESQL_13", mode = EnumSource.Mode.EXCLUDE)
    void namesThatNeedQuotingAreReadTotalledFilteredAndMended(Kind kind) throws Exception {
        Database source = new Database(kind, folder, "src");
        Database target = new Database(kind, folder, "tgt");
        for (String name : NAMES) {
            for (Database database : List.of(source, target)) {
                String table = database.quote(name);
                String column = database.quote(name + " v");
                boolean old = database == source;
                database.execute(
                        "CREATE TABLE " + table + " (" + table + " INTEGER PRIMARY KEY, " + column + " VARCHAR(9))",
                        "INSERT INTO " + table + " VALUES (1, 'a'), (2, '" + (old ? "b" : "c") + "')",
                        "INSERT INTO " + table + " VALUES (" + (old ? 3 : 4) + ", 'd')");
            }
        }
        Tool tool = new Tool(folder);
        Map<String, JsonNode> matches = compared(tool, source, target);
        assertThat(matches).containsOnlyKeys(NAMES);
        matches.forEach((name, match) -> {
            assertThat(match.get("key").get(0).asText()).isEqualTo(name);
            assertThat(List.of(
                            match.get("same").asInt(),
                            match.get("changed").asInt(),
                            match.get("missing").asInt()))
                    .as(name)
                    .containsExactly(1, 1, 1);
        });
        Tool.Result script = tool.run("script", "--table", "with space,dot.ted");
        assertThat(script.out()).as(script.all()).contains("with space", "dot.ted");
        assertThat(script.out()).contains("left out on request: ").contains("per%cent");
        assertThat(tool.run("script", "--table", "nowhere").code()).isEqualTo(2);
        Tool.Result applied = tool.run("apply", "--yes");
        assertThat(applied.code()).as(applied.all()).isZero();
        Tool.Result totals = tool.run("totals", source.address(), target.address(), "--figure", "all");
        assertThat(totals.code()).as(totals.all()).isZero();
        Tool.Result drafted =
                tool.run("draft", source.address(), target.address(), "--out", "s.yaml", "--expectations");
        assertThat(drafted.out()).as(drafted.all()).contains(NAMES.size() + " without doubt, 0 to check");
        assertThat(tool.run("totals", "--job", "s.yaml").out()).contains("27 expectations held");
        assertThat(tool.run("compare", "--job", "s.yaml").code()).isZero();
        assertThat(tool.run("show", "--job", "s.yaml", "--view", "totals").out())
                .contains("27 expectations held");
        assertThat(tool.run("show", "--job", "other.yaml").code()).isEqualTo(2);
    }

    /** An index that does not tell all rows apart, by these columns as they are, must not be taken for a key. */
    @ParameterizedTest
    @EnumSource(value = Kind.class, names = "POSTGRESQL_13", mode = EnumSource.Mode.EXCLUDE)
    void onlyWhatTellsEveryRowApartIsTakenAsTheKey(Kind kind) throws Exception {
        boolean partial = kind == Kind.SQLITE || kind == Kind.POSTGRESQL;
        boolean prefix = kind == Kind.MARIADB;
        boolean expression = partial;
        List<Database> sides = List.of(new Database(kind, folder, "src"), new Database(kind, folder, "tgt"));
        for (Database side : sides) {
            side.execute(
                    "CREATE TABLE loose (a INTEGER, b VARCHAR(20))",
                    "CREATE TABLE uni (a INTEGER NOT NULL, b INTEGER NOT NULL, c INTEGER, CONSTRAINT u1 UNIQUE (b, a))",
                    "CREATE TABLE nul (a INTEGER, b INTEGER NOT NULL, CONSTRAINT u2 UNIQUE (a), CONSTRAINT u3 UNIQUE (b))",
                    "INSERT INTO loose VALUES (1, 'xa'), (1, 'xb'), (2, 'y')",
                    "INSERT INTO uni VALUES (1, 1, 1), (1, 2, 1), (2, 1, 1)",
                    "INSERT INTO nul VALUES (NULL, 1), (NULL, 2), (3, 3)");
            if (partial) {
                side.execute("CREATE UNIQUE INDEX part ON loose (a) WHERE a > 1");
            }
            if (expression) {
                side.execute("CREATE UNIQUE INDEX expr ON loose (lower(b))");
            }
            if (prefix) {
                side.execute("CREATE TABLE pre (b VARCHAR(20))", "CREATE UNIQUE INDEX pre1 ON pre (b(3))");
            }
        }
        sides.get(1).execute("UPDATE uni SET c = 2 WHERE a = 2", "DELETE FROM loose WHERE b = 'xb'");
        Map<String, JsonNode> found = new HashMap<>();
        compared(new Tool(folder), sides.get(0), sides.get(1)).forEach((n, m) -> found.put(n.toLowerCase(), m));
        assertThat(found.get("loose").get("key")).isEmpty();
        assertThat(found.get("loose").get("missing").asInt()).isEqualTo(1);
        assertThat(found.get("uni").get("key").toString().toLowerCase()).isEqualTo("[\"b\",\"a\"]");
        assertThat(found.get("uni").get("changed").asInt()).isEqualTo(1);
        assertThat(found.get("nul").get("key").toString().toLowerCase())
                .as("the one that is not NULL")
                .isEqualTo("[\"b\"]");
        if (prefix) {
            assertThat(found.get("pre").get("key")).isEmpty();
        }
    }

    @ParameterizedTest
    @EnumSource(
            value = Kind.class,
            names = {"H2", "POSTGRESQL", "DUCKDB"})
    void schemasTakePartInNamesAndPatterns(Kind kind) throws Exception {
        Database source = new Database(kind, folder, "src")
                .execute(
                        "CREATE SCHEMA lab",
                        "CREATE TABLE lab.gauge (id INTEGER PRIMARY KEY)",
                        "CREATE TABLE gauge (id INTEGER)",
                        "CREATE TABLE lab.wave (id INTEGER PRIMARY KEY)",
                        "INSERT INTO lab.wave VALUES (1)");
        Database target = new Database(kind, folder, "tgt")
                .execute(
                        "CREATE TABLE gauge (id INTEGER PRIMARY KEY)",
                        "CREATE TABLE wave (id INTEGER PRIMARY KEY)",
                        "CREATE TABLE rest (id INTEGER PRIMARY KEY)");
        String own = kind == Kind.DUCKDB ? "main" : "public";
        Files.writeString(
                folder.resolve("s.yaml"),
                "job: 1\nsource: \"" + source.address() + "\"\ntarget: \"" + target.address()
                        + "\"\nmatches:\n  - {source: \"lab.*\", target: \"" + own + ".*\"}\n");
        Tool tool = new Tool(folder);
        Tool.Result compared = tool.run("compare", "--job", "s.yaml");
        assertThat(compared.code()).as(compared.all()).isEqualTo(1);
        assertThat(compared.out().toLowerCase())
                .contains("1 of 2 tables same; 0 changed, 1 missing, 0 extra")
                .containsPattern("rest +- +\\d+ +extra table");
        assertThat(tool.run("compare", source.address() + "#" + own + ".gauge", target.address() + "#gauge")
                        .code())
                .isZero();
        Tool.Result ambiguous = tool.run("compare", source.address() + "#gauge", target.address() + "#gauge");
        assertThat(ambiguous.code()).as(ambiguous.all()).isIn(0, 2);
        Tool.Result drafted = tool.run(
                "draft", source.address(), target.address(), "--pair", "lab.*=" + own + ".*", "--out", "d.yaml");
        assertThat(drafted.out().toLowerCase()).as(drafted.all()).contains("2 pairs of tables", "as asked for");
    }
}
