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
import sharptally.core.place.Address;
import sharptally.core.place.Place;
import sharptally.core.place.PlaceAccess;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.engines.Engines;

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
        boolean prefix = kind.like() == Kind.MARIADB;
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

    /** Whoever asks for many tables gets all of a schema in one go: each must be what it is when it is asked for alone. */
    @ParameterizedTest
    @EnumSource(names = {"POSTGRESQL", "POSTGRESQL_13", "MARIADB", "MYSQL"})
    void tablesAskedForTogetherAreWhatEachIsAlone(Kind kind) throws Exception {
        boolean maria = kind.like() == Kind.MARIADB;
        Database database = new Database(kind, folder, "all");
        database.execute(
                "CREATE TABLE station (id INT PRIMARY KEY, code VARCHAR(9) NOT NULL UNIQUE, name VARCHAR(40))",
                "CREATE TABLE gauge (id INT PRIMARY KEY, station_id INT, other INT, taken_at TIMESTAMP(3) NULL,"
                        + " twice INT" + (kind == Kind.MYSQL ? "" : " GENERATED ALWAYS AS (id * 2) STORED")
                        + ", level NUMERIC(8, 3), b CHAR(3), UNIQUE (b, other),"
                        + " CONSTRAINT g1 FOREIGN KEY (station_id) REFERENCES station (id) ON DELETE CASCADE,"
                        + " CONSTRAINT g2 FOREIGN KEY (other) REFERENCES station (id))",
                "CREATE TABLE pair (a INT, b INT, c VARCHAR(5), PRIMARY KEY (b, a))",
                "CREATE TABLE part (a INT NOT NULL, b INT NOT NULL, c INT, CONSTRAINT p1 FOREIGN KEY (a, b)"
                        + " REFERENCES pair (b, a) ON DELETE SET NULL)"
                                .replace("SET NULL", maria ? "CASCADE" : "SET NULL"),
                "CREATE TABLE bare (v VARCHAR(3))",
                "CREATE TABLE empty_name (" + database.quote("A b") + " INT)",
                "CREATE VIEW shown AS SELECT id, name FROM station");
        if (maria) {
            database.execute(
                    "CREATE TABLE note (id INT PRIMARY KEY AUTO_INCREMENT, j " + (kind == Kind.MYSQL ? "TEXT" : "JSON")
                            + ", seen TIMESTAMP DEFAULT now() ON UPDATE now())",
                    "CREATE TABLE old (id INT PRIMARY KEY, t TEXT, UNIQUE (t(5))) ENGINE = MyISAM",
                    "CREATE TABLE kept (id INT PRIMARY KEY)" + (kind == Kind.MYSQL ? "" : " WITH SYSTEM VERSIONING"),
                    "CREATE TRIGGER ring BEFORE INSERT ON bare FOR EACH ROW SET NEW.v = 'x'");
        } else {
            database.execute(
                    "CREATE DOMAIN level AS numeric(7, 2)",
                    "CREATE DOMAIN sea_level AS level",
                    "CREATE TYPE mood AS ENUM ('calm', 'rough')",
                    "CREATE TABLE typed (id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY, l sea_level, m mood, s serial)",
                    "CREATE UNIQUE INDEX part_of_it ON typed (s) WHERE s > 3",
                    "CREATE TABLE heir () INHERITS (bare)",
                    "CREATE TABLE cut (id int, day date, PRIMARY KEY (id, day)) PARTITION BY RANGE (day)",
                    "CREATE TABLE cut_1 PARTITION OF cut FOR VALUES FROM ('2020-01-01') TO ('2021-01-01')",
                    "CREATE SCHEMA lab",
                    "CREATE TABLE lab.gauge (id int, x text UNIQUE, station_id int REFERENCES station ON DELETE CASCADE)",
                    "CREATE FUNCTION ring() RETURNS trigger LANGUAGE plpgsql AS 'BEGIN RETURN NEW; END'",
                    "CREATE TRIGGER ring BEFORE INSERT ON bare FOR EACH ROW EXECUTE FUNCTION ring()");
        }
        PlaceAccess access = PlaceAccess.of(Address.parse(database.address()));
        Map<String, TableShape> alone = new HashMap<>();
        try (Place place = Engines.of(access.address()).open(access)) {
            for (TableName table : place.tables()) {
                // A place that is asked for one table only.
                try (Place single = Engines.of(access.address()).open(access)) {
                    alone.put(table.toString(), single.describe(table.toString()));
                }
            }
            assertThat(alone).hasSizeGreaterThanOrEqualTo(10);
            for (int round = 0; round < 2; round++) {
                for (TableName table : place.tables()) {
                    assertThat(place.describe(table.toString()))
                            .as(table.toString())
                            .isEqualTo(alone.get(table.toString()));
                }
            }
        }
        assertThat(alone.get("gauge").foreignKeys()).hasSize(2);
        assertThat(alone.get("station").sideEffects().toString()).contains("gauge");
        assertThat(alone.get("bare").hasTriggers()).isTrue();
    }
}
