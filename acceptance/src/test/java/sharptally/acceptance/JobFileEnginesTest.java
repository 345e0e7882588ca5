package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import java.util.stream.StreamSupport;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.MethodSource;
import sharptally.acceptance.Database.Kind;

/** What a job file can say, on every engine as either side: each engine is compared with the next one of the list. */
@InTurn(2)
class JobFileEnginesTest {
    private static final List<Kind> ENGINES = List.of(Kind.SQLITE, Kind.POSTGRESQL, Kind.H2, Kind.MARIADB, Kind.DUCKDB);

    @TempDir
    Path folder;

    static Stream<Arguments> rounds() {
        return Stream.iterate(0, i -> i + 1)
                .limit(ENGINES.size())
                .map(i -> Arguments.of(ENGINES.get(i), ENGINES.get((i + 1) % ENGINES.size())));
    }

    private static JsonNode json(Tool.Result result) throws Exception {
        assertThat(result.out()).as(result.all()).startsWith("{");
        return result.json().get("run");
    }

    private Tool jobFile(String matches, Database source, Database target) throws Exception {
        Files.writeString(
                folder.resolve("job.yaml"),
                "job: 1\nsource: \"" + source.address() + "\"\ntarget: \"" + target.address() + "\"\n" + matches);
        return new Tool(folder);
    }

    @ParameterizedTest(name = "{0} > {1}")
    @MethodSource("rounds")
    void queriesFiltersComputedColumnsViewsAndPatterns(Kind from, Kind to) throws Exception {
        Database source = new Database(from, folder, "src")
                .execute(
                        "CREATE TABLE gauge (id INTEGER PRIMARY KEY, code VARCHAR(8), datum_mm INTEGER, made DATE)",
                        "INSERT INTO gauge VALUES (1, 'A', 1500, DATE_1), (2, 'B', -250, DATE_1), (3, 'C', 7, DATE_2)"
                                .replace("DATE_1", date(from, "2019-05-01"))
                                .replace("DATE_2", date(from, "2024-05-01")),
                        "CREATE TABLE ref_a (k INTEGER PRIMARY KEY, v VARCHAR(9))",
                        "INSERT INTO ref_a VALUES (1, 'x')",
                        "CREATE TABLE ref_b (k INTEGER PRIMARY KEY, v VARCHAR(9))",
                        "INSERT INTO ref_b VALUES (1, 'x'), (2, 'y')",
                        "CREATE TABLE visit (gauge_code VARCHAR(8), n INTEGER)",
                        "INSERT INTO visit VALUES ('A', 1), ('A', 2), ('C', 5)");
        Database target = new Database(to, folder, "tgt")
                .execute(
                        "CREATE TABLE gauge (id INTEGER PRIMARY KEY, code VARCHAR(8), datum_m DECIMAL(8,3), made DATE)",
                        "INSERT INTO gauge VALUES (2, 'B', -0.250, DATE_1), (1, 'A', 1.501, DATE_1)"
                                .replace("DATE_1", date(to, "2019-05-01")),
                        "CREATE VIEW known AS SELECT id, code FROM gauge WHERE id < 2",
                        "CREATE TABLE list_a (k INTEGER PRIMARY KEY, v VARCHAR(9))",
                        "INSERT INTO list_a VALUES (1, 'x')",
                        "CREATE TABLE list_b (k INTEGER PRIMARY KEY, v VARCHAR(9))",
                        "INSERT INTO list_b VALUES (1, 'x'), (2, 'z')",
                        "CREATE TABLE visit (gauge_id INTEGER, n INTEGER)",
                        "INSERT INTO visit VALUES (1, 1), (1, 2), (2, 9)");
        Tool tool = jobFile("""
                workers: 3
                matches:
                  - source: gauge
                    columns:
                      - {source: datum_mm, target: datum_m, read: {source: "datum_mm / 1000.0"}}
                    where: {source: "made < '2020-01-01' -- the older ones"}
                  - name: known
                    source: gauge
                    target: known
                    key: id
                    leave-out: [datum_mm, made]
                    where: {source: id < 3}
                  - name: visit
                    source: visit
                    target: {query: "SELECT g.code AS gauge_code, v.n FROM visit v JOIN gauge g ON g.id = v.gauge_id;"}
                    key: [gauge_code, n]
                  - {source: "ref_*", target: "list_*"}
                """, source, target);
        Tool.Result compared = tool.run("compare", "--job", "job.yaml", "--format", "json");
        assertThat(compared.code()).as(compared.all()).isEqualTo(1);
        List<String> found = new ArrayList<>();
        json(compared)
                .get("matches")
                .forEach(m -> found.add(m.get("name").asText().toLowerCase() + " " + m.get("same") + "/"
                        + m.get("changed") + "/" + m.get("missing") + "/" + m.get("extra")));
        assertThat(found)
                .containsExactly("gauge 1/1/0/0", "known 1/0/1/0", "visit 2/0/1/1", "ref_a 1/0/0/0", "ref_b 1/1/0/0");
        // What was resolved says the same again, and only what can be written to is.
        Tool.Result again = tool.run(
                "compare", "--job", tool.latestRun().resolve("job.yaml").toString(), "--format", "json");
        assertThat(json(again).get("matches")).hasSize(5);
        assertThat(again.code()).as(again.all()).isEqualTo(1);
        Tool.Result applied = tool.run("apply", "--yes");
        assertThat(applied.err())
                .contains("nothing is done about match known: its target is a view")
                .contains("nothing is done about match visit: its target is a query");
        assertThat(applied.out()).as(applied.all()).contains("2 changes made and committed");
        List<String> names = folded(to, "id", "datum_m");
        assertThat(target.exactRows(folded(to, "gauge"), names))
                .isEqualTo(new Database(to, folder, "again")
                        .execute(
                                "CREATE TABLE gauge (id INTEGER, datum_m DECIMAL(8,3))",
                                "INSERT INTO gauge VALUES (1, 1.500), (2, -0.250)")
                        .exactRows(folded(to, "gauge"), names));
    }

    private static String date(Kind kind, String day) {
        return kind == Kind.SQLITE ? "'" + day + "'" : "DATE '" + day + "'";
    }

    /** Column type, value of the source, value of the target that the rule holds the same, one that it does not. */
    private static final String[][] RULED = {
        {"within", "DOUBLE PRECISION", "1.0", "1.0009", "1.0011", "within: 0.001"},
        {"share", "DECIMAL(9,3)", "-200.000", "-201.000", "-203.000", "within: 1%"},
        {"later", "TIMESTAMP", "'2026-01-31 23:59:59'", "'2026-02-01 00:00:01'", "'2026-02-01 00:00:02'", "within: 2 s"
        },
        {"places", "DECIMAL(9,3)", "2.345", "2.350", "2.344", "decimals: 2"},
        {
            "cut",
            "TIMESTAMP",
            "'2026-01-31 23:59:59'",
            "'2026-01-31 23:59:01'",
            "'2026-02-01 00:00:00'",
            "precision: minute"
        },
        {
            "zone",
            "TIMESTAMP",
            "'2026-07-01 12:00:00'",
            "'2026-07-01 10:00:00'",
            "'2026-07-01 12:00:00'",
            "zone: {source: Europe/Oslo}"
        },
        {"letters", "VARCHAR(20)", "'Straße Å'", "'STRASSE å'", "'Strase Å'", "case: ignore"},
        {"spaced", "VARCHAR(20)", "'a  b'", "' a b'", "'ab'", "spaces: any"},
        {"form", "VARCHAR(20)", "'Émile'", "'E\u0301mile'", "'Emile'", "unicode: nfc"},
        {"none", "VARCHAR(20)", "''", "NULL", "' '", "empty-as-null: true"},
        {"word", "VARCHAR(20)", "'N'", "'north'", "'N'", "same-as: {N: north, S: south, \"-\": ~}"},
        {"number", "INTEGER", "7", "70", "7", "same-as: {7: 70}"},
        {
            "tree",
            "VARCHAR(40)",
            "'{\"a\":1,\"b\":[2]}'",
            "'{ \"b\":[2.0], \"a\":1 }'",
            "'{\"a\":1,\"b\":[3]}'",
            "json: true"
        },
        {"things", "VARCHAR(20)", "'b, a,c'", "'a,b,c'", "'a,b,b'", "list: \",\""},
        {
            "phone",
            "VARCHAR(20)",
            "'+47 11-22'",
            "'00471122'",
            "'00471123'",
            "clean: [{pattern: '^\\+', with: '00'}, {pattern: '\\D', with: ''}]"
        },
    };

    @ParameterizedTest(name = "{0} > {1}")
    @MethodSource("rounds")
    void rulesHoldWhatTheySayAndAreCounted(Kind from, Kind to) throws Exception {
        Database source = ruled(new Database(from, folder, "src"), 2, 2);
        Database target = ruled(new Database(to, folder, "tgt"), 3, 4);
        StringBuilder columns = new StringBuilder("matches:\n  - source: ruled\n    columns:\n");
        for (String[] rule : RULED) {
            columns.append("      - {source: ")
                    .append(rule[0])
                    .append("_c, target: ")
                    .append(rule[0])
                    .append("_c, ")
                    .append(rule[5])
                    .append("}\n");
        }
        Tool tool = jobFile(columns.toString(), source, target);
        Tool.Result compared = tool.run("compare", "--job", "job.yaml", "--format", "json");
        JsonNode match = json(compared).get("matches").get(0);
        assertThat(match.get("changed").asInt()).as(compared.all()).isEqualTo(1);
        assertThat(match.get("same").asInt()).isEqualTo(1);
        List<String> differing = new ArrayList<>();
        match.get("differing")
                .forEach(d -> differing.add(d.get("column").asText().toLowerCase()));
        List<String> byRule = new ArrayList<>();
        match.get("same-by-rule")
                .forEach(r -> byRule.add(r.get("column").asText().toLowerCase() + " "
                        + r.get("rule").asText() + " " + r.get("rows")));
        List<String> all = Stream.of(RULED).map(r -> r[0] + "_c").toList();
        assertThat(differing).containsExactlyInAnyOrderElementsOf(all);
        assertThat(byRule)
                .containsExactlyInAnyOrderElementsOf(Stream.of(RULED)
                        .map(r -> r[0] + "_c " + r[5].split(":")[0] + " 1")
                        .toList());
        // Without rules, all of it differs; mended by translated values, nothing does.
        Tool.Result applied = tool.run("apply", "--yes");
        assertThat(applied.code()).as(applied.all()).isZero();
    }

    private static Database ruled(Database database, int first, int second) throws SQLException {
        StringBuilder create = new StringBuilder("CREATE TABLE ruled (id INTEGER PRIMARY KEY");
        StringBuilder one = new StringBuilder("INSERT INTO ruled VALUES (1");
        StringBuilder two = new StringBuilder("INSERT INTO ruled VALUES (2");
        for (String[] rule : RULED) {
            boolean datetime = database.kind().like() == Kind.MARIADB && rule[1].equals("TIMESTAMP");
            create.append(", ").append(rule[0]).append("_c ").append(datetime ? "DATETIME" : rule[1]);
            one.append(", ").append(rule[first]);
            two.append(", ").append(rule[second]);
        }
        return database.execute(create + ")", one + ")", two + ")");
    }

    @ParameterizedTest(name = "{0} > {1}")
    @MethodSource("rounds")
    void resultsAreRecordedInAnyPlaceRunAfterRun(Kind from, Kind to) throws Exception {
        Database source = new Database(Kind.SQLITE, folder, "a")
                .execute("CREATE TABLE s (id INTEGER PRIMARY KEY, v TEXT)", "INSERT INTO s VALUES (1, 'a'), (2, 'b')");
        Database target = new Database(Kind.SQLITE, folder, "b")
                .execute("CREATE TABLE s (id INTEGER PRIMARY KEY, v TEXT)", "INSERT INTO s VALUES (1, 'a'), (2, 'c')");
        Database kept = new Database(from, folder, "kept").execute("CREATE TABLE other (id INTEGER)");
        Tool tool = jobFile(
                "record: \"" + kept.address() + "\"\nmatches:\n  - source: s\n    rules: [{type: text, case: ignore}]\n"
                        + "    expect: [\"rows = 2\", \"max(v) < 'c'\"]\n",
                source,
                target);
        for (int run = 1; run <= 2; run++) {
            Tool.Result compared = tool.run("compare", "--job", "job.yaml");
            assertThat(compared.code()).as(compared.all()).isEqualTo(1);
            assertThat(compared.err()).isEmpty();
        }
        assertThat(kept.exactRows(folded(from, "tally_run"), List.of(folded(from, "changed_rows"))))
                .hasSize(2);
        assertThat(kept.exactRows(folded(from, "tally_match"), folded(from, "match_name", "changed_rows", "same_rows")))
                .hasSize(2);
        assertThat(kept.exactRows(folded(from, "tally_column"), folded(from, "column_name", "differing_rows")))
                .hasSize(2);
        assertThat(kept.exactRows(folded(from, "tally_check"), folded(from, "expected", "held")))
                .hasSize(4);
        assertThat(kept.exactRows(folded(from, "tally_total"), folded(from, "figure", "source_number")))
                .hasSizeGreaterThan(4);
        Tool.Result refused = tool.run("totals", "--job", "job.yaml", "--record", "sqlite:none/there.db");
        assertThat(refused.code()).as(refused.all()).isEqualTo(3);
        assertThat(refused.err()).contains("can't make the file: sqlite:none/there.db");
        assertThat(refused.out()).isEmpty();
        assertThat(tool.run("totals", "--job", "job.yaml", "--record", "sqlite:fresh.db")
                        .code())
                .isEqualTo(1);
        assertThat(new Database(Kind.SQLITE, folder, "fresh").values("SELECT state FROM tally_run"))
                .containsExactly("complete");
    }

    private static String folded(Kind kind, String name) {
        return kind == Kind.H2 ? name.toUpperCase() : name;
    }

    private static List<String> folded(Kind kind, String... names) {
        return Stream.of(names).map(n -> folded(kind, n)).toList();
    }

    /** Three hundred columns everywhere, and as many as an engine has room for where that is more. */
    @ParameterizedTest(name = "{0} > {1}")
    @CsvSource({"SQLITE, POSTGRESQL", "MARIADB, POSTGRESQL", "H2, DUCKDB"})
    void wideTables(Kind from, Kind to) throws Exception {
        int columns = Math.min(most(from), most(to));
        Database source = wide(new Database(from, folder, "src"), columns, -1);
        Database target = wide(new Database(to, folder, "tgt"), columns, columns - 1);
        Tool tool = new Tool(folder);
        Tool.Result compared = tool.run("compare", source.address(), target.address(), "--format", "json");
        assertThat(compared.code()).as(compared.err()).isEqualTo(1);
        JsonNode match = json(compared).get("matches").get(0);
        assertThat(match.get("changed").asInt()).isEqualTo(6);
        assertThat(match.get("columns").asInt()).isEqualTo(columns + 1);
        JsonNode differing = match.get("differing");
        assertThat(differing).hasSize(1);
        assertThat(differing.get(0).get("rows").asInt()).isEqualTo(6);
        assertThat(StreamSupport.stream(differing.get(0).get("examples").spliterator(), false)
                        .map(e -> e.get("source") + ">" + e.get("target")))
                .containsExactly("\"0\">\"1\"", "\"2\">\"3\"", "\"4\">\"5\"");
        Tool.Result totals = tool.run("totals", source.address(), target.address(), "--figure", "rows,sum");
        assertThat(totals.out())
                .as(totals.err())
                .contains("1 of " + String.format("%,d", columns + 2).replace('.', ','));
        assertThat(tool.run("apply", "--yes").code()).isZero();
    }

    private static int most(Kind kind) {
        return switch (kind) {
            case H2, DUCKDB -> 3_000;
            case POSTGRESQL, SQLITE -> 1_500;
            default -> 900;
        };
    }

    private static Database wide(Database database, int columns, int nudged) throws SQLException {
        StringBuilder create = new StringBuilder("CREATE TABLE wide (id INTEGER PRIMARY KEY");
        for (int c = 0; c < columns; c++) {
            create.append(", c").append(c).append(" SMALLINT");
        }
        List<String> statements = new ArrayList<>(List.of(create + ")"));
        for (int row = 0; row < 12; row++) {
            StringBuilder insert = new StringBuilder("INSERT INTO wide VALUES (" + row);
            for (int c = 0; c < columns; c++) {
                insert.append(",")
                        .append(c == columns - 1 ? row + (c == nudged && row % 2 == 0 ? 1 : 0) : row * c % 97);
            }
            statements.add(insert + ")");
        }
        return database.execute(statements.toArray(new String[0]));
    }
}
