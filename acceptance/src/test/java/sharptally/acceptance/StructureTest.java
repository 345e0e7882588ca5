package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Random;
import java.util.Set;
import java.util.TreeSet;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import sharptally.acceptance.Database.Kind;

/** What tables are declared to be is told as it was declared, and what is proposed for a target can be run there. */
@InTurn(2)
class StructureTest {
    @TempDir
    Path folder;

    /** One declaration, as it is told: sort and columns. */
    private enum Declared {
        UNIQUE("unique gauge"),
        INDEX("index level_mm,taken_on"),
        CHECK("check"),
        OTHER_CHECK("check"),
        DEFAULT("default remark"),
        NUMBER_DEFAULT("default level_mm"),
        REFERENCE("reference station"),
        TRIGGER("trigger");

        private final String told;

        Declared(String told) {
            this.told = told;
        }

        boolean isToldBy(Kind kind) {
            return switch (this) {
                case CHECK, OTHER_CHECK -> kind != Kind.SQLITE && kind != Kind.MYSQL;
                default -> true;
            };
        }

        /** Those of H2 are written in Java. */
        boolean isMadeBy(Kind kind) {
            return this != TRIGGER || kind != Kind.H2;
        }
    }

    private static void make(Database database, Set<Declared> all) throws Exception {
        Kind kind = database.kind();
        List<String> columns = new ArrayList<>(List.of(
                "id INTEGER PRIMARY KEY",
                "gauge VARCHAR(20) NOT NULL" + (all.contains(Declared.UNIQUE) ? " UNIQUE" : ""),
                "level_mm INTEGER" + (all.contains(Declared.NUMBER_DEFAULT) ? " DEFAULT 17" : ""),
                "taken_on DATE",
                "remark VARCHAR(40)" + (all.contains(Declared.DEFAULT) ? " DEFAULT 'none yet'" : ""),
                "station INTEGER"));
        if (all.contains(Declared.CHECK)) {
            columns.add("CONSTRAINT sane CHECK (level_mm > -5000 AND level_mm < 9000)");
        }
        if (all.contains(Declared.OTHER_CHECK)) {
            columns.add("CONSTRAINT known CHECK (gauge <> 'unknown')");
        }
        if (all.contains(Declared.REFERENCE)) {
            columns.add("FOREIGN KEY (station) REFERENCES station (id)");
        }
        List<String> statements = new ArrayList<>(List.of(
                "CREATE TABLE station (id INTEGER PRIMARY KEY)",
                "CREATE TABLE reading (" + String.join(", ", columns) + ")"));
        if (all.contains(Declared.INDEX)) {
            statements.add("CREATE INDEX by_level ON reading (level_mm, taken_on)");
        }
        if (all.contains(Declared.TRIGGER)) {
            if (kind == Kind.POSTGRESQL) {
                statements.add("CREATE FUNCTION noted() RETURNS trigger LANGUAGE plpgsql AS 'BEGIN RETURN NEW; END'");
                statements.add("CREATE TRIGGER note BEFORE INSERT ON reading FOR EACH ROW EXECUTE FUNCTION noted()");
            } else if (kind == Kind.SQLITE) {
                statements.add("CREATE TRIGGER note BEFORE INSERT ON reading BEGIN SELECT 1; END");
            } else {
                statements.add("CREATE TRIGGER note BEFORE INSERT ON reading FOR EACH ROW SET @noted = 1");
            }
        }
        database.execute(statements.toArray(String[]::new));
    }

    @ParameterizedTest
    @CsvSource({
        "POSTGRESQL, POSTGRESQL",
        "POSTGRESQL, MARIADB",
        "MARIADB, H2",
        "H2, POSTGRESQL",
        "SQLITE, POSTGRESQL",
        "MARIADB, SQLITE",
        "MYSQL, MARIADB"
    })
    void whatIsDeclaredOtherwiseIsTold(Kind from, Kind to) throws Exception {
        for (int round = 0; round < 3; round++) {
            long seed = Seed.next();
            Random random = new Random(seed);
            System.out.println("seed " + seed + " " + from + " " + to);
            Path own = Files.createDirectory(folder.resolve("round" + round));
            Database source = new Database(from, own, "source" + round);
            Database target = new Database(to, own, "target" + round);
            Set<Declared> here = new TreeSet<>();
            Set<Declared> there = new TreeSet<>();
            Set<String> expected = new TreeSet<>();
            for (Declared one : Declared.values()) {
                boolean inSource = random.nextBoolean() && one.isMadeBy(from);
                boolean inTarget = random.nextBoolean() && one.isMadeBy(to);
                if (inSource) {
                    here.add(one);
                }
                if (inTarget) {
                    there.add(one);
                }
                // H2 makes indexes of its own for what refers; those are told as what they are.
                boolean told = one.isToldBy(from) && one.isToldBy(to);
                if (told && inSource != inTarget) {
                    expected.add(one.told + (inSource ? " source" : " target"));
                }
            }
            make(source, here);
            make(target, there);
            Tool.Result survey = new Tool(own).run("survey", source.address(), target.address(), "--format", "json");
            assertThat(survey.code()).as(survey.all()).isZero();
            Set<String> found = new TreeSet<>();
            for (JsonNode one : survey.json().get("differences")) {
                List<String> columns = new ArrayList<>();
                one.get("columns").forEach(c -> columns.add(c.asText()));
                String sort = one.get("sort").asText().toLowerCase(Locale.ROOT);
                String named =
                        sort.equals("check") || sort.equals("trigger") ? sort : sort + " " + String.join(",", columns);
                boolean ofKey = named.equals("index station");
                if (!ofKey) {
                    found.add(named + (one.get("target").asText().isEmpty() ? " source" : " target"));
                    assertThat(one.get("source").asText().isEmpty()
                                    || one.get("target").asText().isEmpty())
                            .as("seed " + seed + survey.all())
                            .isTrue();
                }
                assertThat(one.get("meaning").asText()).isNotEmpty();
            }
            assertThat(found)
                    .as("seed " + seed + " " + here + " " + there + survey.all())
                    .isEqualTo(expected);
            if (here.contains(Declared.CHECK) && from == Kind.SQLITE) {
                assertThat(survey.json().get("untold").toString()).contains("does not tell: check");
            }
            aRunKeepsTheSame(source, target, own, survey.json(), "seed " + seed);
        }
    }

    /** A comparison that looks at them as well keeps the same, in every report, and its verdict is of the rows. */
    private static void aRunKeepsTheSame(Database source, Database target, Path own, JsonNode survey, String story)
            throws Exception {
        Tool tool = new Tool(own);
        Tool.Result compared =
                tool.run("compare", source.address(), target.address(), "--declarations", "--format", "json");
        assertThat(compared.code()).as(story + compared.all()).isZero();
        JsonNode kept = compared.json().at("/run/declared");
        List<String> expected = new ArrayList<>();
        survey.get("differences")
                .forEach(one -> expected.add(one.get("match").asText() + " "
                        + one.get("sort").asText().toLowerCase(Locale.ROOT).replaceAll(".*reference.*", "foreign key")
                        + one.get("source") + one.get("target") + one.get("meaning")));
        List<String> found = new ArrayList<>();
        kept.get("otherwise")
                .forEach(one -> found.add(one.get("table").asText() + " "
                        + one.get("what").asText().replaceFirst(" of .*", "") + one.get("source") + one.get("target")
                        + one.get("meaning")));
        assertThat(found).as(story).isEqualTo(expected);
        assertThat(kept.get("untold")).as(story).isEqualTo(survey.get("untold"));
        assertThat(tool.run("report", "--format", "md,html,pdf,xlsx").code()).isZero();
        String page = Files.readString(tool.latestRun().resolve("report.html"));
        String text = Files.readString(tool.latestRun().resolve("report.md"));
        assertThat(page.contains("Declared otherwise")).as(story).isEqualTo(!expected.isEmpty());
        for (JsonNode one : kept.get("otherwise")) {
            assertThat(text).as(story).contains(one.get("meaning").asText());
        }
        if (!expected.isEmpty()) {
            assertThat(tool.run("compare", source.address(), target.address(), "--declarations", "--strict-shape")
                            .code())
                    .as(story)
                    .isEqualTo(1);
        }
    }

    /** What refers to a table that goes by another name on the other side refers to the same. */
    @Test
    void aReferenceIsHeldAgainstTheMatchOfItsTable() throws Exception {
        Database source = new Database(Kind.POSTGRESQL, folder, "source");
        Database target = new Database(Kind.MARIADB, folder, "target");
        source.execute(
                "CREATE TABLE station (code VARCHAR(4) PRIMARY KEY)",
                "CREATE TABLE reading (id INTEGER PRIMARY KEY, station VARCHAR(4) REFERENCES station (code))");
        target.execute(
                "CREATE TABLE gauge (gauge_code VARCHAR(4) PRIMARY KEY)",
                "CREATE TABLE other (gauge_code VARCHAR(4) PRIMARY KEY)",
                "CREATE TABLE reading (id INTEGER PRIMARY KEY, station VARCHAR(4),"
                        + " FOREIGN KEY (station) REFERENCES gauge (gauge_code))");
        Files.writeString(folder.resolve("job.yaml"), """
                job: 1
                source: "%s"
                target: "%s"
                matches:
                  - source: station
                    target: gauge
                    columns:
                      - {source: code, target: gauge_code}
                  - source: reading
                """.formatted(source.address(), target.address()));
        Tool tool = new Tool(folder);
        Tool.Result alike = tool.run("compare", "--job", "job.yaml", "--declarations");
        assertThat(alike.code()).as(alike.all()).isZero();
        assertThat(alike.out()).doesNotContain("foreign key");
        target.execute(
                "ALTER TABLE reading DROP FOREIGN KEY reading_ibfk_1",
                "ALTER TABLE reading ADD FOREIGN KEY (station) REFERENCES other (gauge_code)");
        assertThat(tool.run("compare", "--job", "job.yaml", "--declarations").out())
                .contains("(station) to station (code)", "(station) to other (gauge_code)");
    }

    private static String types(Kind kind) {
        return switch (kind) {
            case POSTGRESQL ->
                "id integer PRIMARY KEY, small smallint, large bigint, amount numeric(20, 6), free numeric, near real,"
                        + " far double precision, short varchar(12), long text, raw bytea, day date, at time(3),"
                        + " taken timestamp(6), point timestamptz, yes boolean, mark uuid, code char(4) UNIQUE";
            case MARIADB ->
                "id int PRIMARY KEY, small smallint, large bigint unsigned, amount decimal(20, 6), near float, far double,"
                        + " short varchar(12), long_one longtext, raw longblob, day date, at time(3), taken datetime(6),"
                        + " tiny tinyint unsigned, code char(4) UNIQUE";
            case H2 ->
                "id integer PRIMARY KEY, small smallint, large bigint, amount numeric(20, 6), near real, far double precision,"
                        + " short varchar(12), long clob, raw varbinary(200), day_on date, at time(3), taken timestamp(6),"
                        + " point timestamp(6) with time zone, yes boolean, mark uuid, code varchar(4) UNIQUE";
            default ->
                "id INTEGER PRIMARY KEY, large BIGINT, amount DECIMAL(20, 6), far DOUBLE, short VARCHAR(12), long TEXT,"
                        + " raw BLOB, day DATE, taken TIMESTAMP, code TEXT UNIQUE";
        };
    }

    private static String row(Kind kind) {
        return switch (kind) {
            case POSTGRESQL ->
                "-2147483648, 32767, 9223372036854775807, -12345678901234.567891, 0.5, 0.25, 1e300, 'twelve chars',"
                        + " repeat('ä', 5000), '\\x00ff01', '1899-12-31', '23:59:59.999', '2026-03-29 02:30:00.123456',"
                        + " '2026-03-29 02:30:00.123456+05', true, '123e4567-e89b-12d3-a456-426614174000', 'TG01'";
            case MARIADB ->
                "-2147483648, 32767, 18446744073709551615, -12345678901234.567891, 0.25, 1e300, 'twelve chars',"
                        + " repeat('ä', 5000), x'00ff01', '1899-12-31', '23:59:59.999', '2026-03-29 02:30:00.123456',"
                        + " 255, 'TG01'";
            case H2 ->
                "-2147483648, 32767, 9223372036854775807, -12345678901234.567891, 0.25, 1e300, 'twelve chars',"
                        + " repeat('ä', 5000), x'00ff01', '1899-12-31', '23:59:59.999', '2026-03-29 02:30:00.123456',"
                        + " '2026-03-29 02:30:00.123456+05:00', true, '123e4567-e89b-12d3-a456-426614174000', 'TG01'";
            default ->
                "9223372036854775807, 5000000000, '-12345678901.5678', 1e300, 'more than twelve chars', 'long',"
                        + " x'00ff01', '1899-12-31', '2026-03-29 02:30:00.123456', 'TG01'";
        };
    }

    /** Made by what is proposed, filled by what is missing, a table of another engine is the same. */
    @ParameterizedTest
    @CsvSource({
        "POSTGRESQL, POSTGRESQL",
        "POSTGRESQL, MARIADB",
        "POSTGRESQL, H2",
        "POSTGRESQL, DUCKDB",
        "POSTGRESQL, SQLITE",
        "MARIADB, POSTGRESQL",
        "MARIADB, MARIADB",
        "MARIADB, H2",
        "MARIADB, SQLITE",
        "H2, POSTGRESQL",
        "H2, MARIADB",
        "H2, DUCKDB",
        "SQLITE, POSTGRESQL",
        "SQLITE, MARIADB",
        "SQLITE, H2",
        "SQLITE, DUCKDB"
    })
    void whatIsProposedHoldsEveryValue(Kind from, Kind to) throws Exception {
        Database source = new Database(from, folder, "source")
                .execute(
                        "CREATE TABLE reading (" + types(from) + ")",
                        "INSERT INTO reading VALUES (" + row(from) + ")",
                        "CREATE TABLE station (id INTEGER PRIMARY KEY, depth INTEGER)");
        Database target = new Database(to, folder, "target").execute("CREATE TABLE station (id INTEGER PRIMARY KEY)");
        Tool tool = new Tool(folder);
        Tool.Result survey = tool.run("survey", source.address(), target.address(), "--ddl-out", "missing.sql");
        assertThat(survey.code()).as(survey.all()).isZero();
        String ddl = Files.readString(folder.resolve("missing.sql"));
        for (String statement : ddl.split(";\n")) {
            String bare = statement.replaceAll("(?m)^--.*$", "").strip();
            if (!bare.isEmpty()) {
                try {
                    target.execute(bare);
                } catch (java.sql.SQLException e) {
                    throw new AssertionError(ddl, e);
                }
            }
        }
        Tool.Result compared = tool.run("compare", source.address(), target.address(), "--format", "json");
        assertThat(compared.code()).as(ddl + compared.all()).isEqualTo(1);
        assertThat(compared.json().at("/run/lone")).as(ddl).isEmpty();
        Tool.Result applied = tool.run("apply", "--yes");
        assertThat(applied.code()).as(ddl + applied.all()).isZero();
        Tool.Result again = tool.run("compare", source.address(), target.address());
        assertThat(again.code()).as(ddl + again.all()).isZero();
        assertThat(again.out()).contains("same: every row of 2 tables was compared");
        assertThat(tool.run("survey", source.address(), target.address(), "--ddl-out", "missing.sql")
                        .err())
                .contains("such a file already");
        assertThat(tool.run("survey", source.address(), "--ddl-out", "x.sql").err())
                .contains("--ddl-out goes with");
    }

    /** Rights are told where they were given. */
    @Test
    void rightsAreTold() throws Exception {
        Database source = new Database(Kind.POSTGRESQL, folder, "source");
        Database target = new Database(Kind.POSTGRESQL, folder, "target");
        for (Database database : List.of(source, target)) {
            database.execute("CREATE TABLE reading (id INTEGER PRIMARY KEY)");
        }
        source.execute("GRANT SELECT, INSERT ON reading TO PUBLIC");
        Tool.Result survey = new Tool(folder).run("survey", source.address(), target.address());
        assertThat(survey.out()).contains("PUBLIC: insert, select").contains("may not do this in the target");
    }
}
