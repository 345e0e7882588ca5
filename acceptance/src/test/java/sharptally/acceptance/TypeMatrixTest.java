package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;

/**
 * Edge values of every kind of value in every engine: the same value is the same between any two engines, and a value
 * nudged by the smallest step that its type has is found, alone. Values are written as text literals that each engine
 * reads by its own rules.
 */
@InTurn(2)
class TypeMatrixTest {
    private static final ObjectMapper JSON = new ObjectMapper();

    /**
     * One kind of value.
     *
     * @param declared its type in SQLite, H2, DuckDB, PostgreSQL and MariaDB
     * @param values edge values, each followed by the same nudged
     */
    private record Subject(String name, List<String> declared, List<String> values) {}

    private static Subject subject(String name, String declared, String... values) {
        return new Subject(name, List.of(declared.split(" *\\| *")), List.of(values));
    }

    private static final List<Subject> SUBJECTS = List.of(
            subject("small", "SMALLINT | SMALLINT | SMALLINT | smallint | smallint", "-32768", "-32767", "0", "1"),
            subject(
                    "whole",
                    "BIGINT | BIGINT | BIGINT | bigint | bigint",
                    "9223372036854775807",
                    "9223372036854775806",
                    "-9223372036854775808",
                    "-9223372036854775807"),
            subject(
                    "unsigned_whole",
                    "TEXT | NUMERIC(20) | UBIGINT | numeric(20) | bigint unsigned",
                    "18446744073709551615",
                    "18446744073709551614",
                    "0",
                    "1"),
            subject(
                    "exact",
                    "DECIMAL(12,3) | NUMERIC(12,3) | DECIMAL(12,3) | numeric(12,3) | decimal(12,3)",
                    "123456789.001",
                    "123456789.002",
                    "-0.001",
                    "0.001",
                    "1.500",
                    "1.501"),
            subject(
                    "exact_wide", "TEXT | NUMERIC(38,10) | DECIMAL(38,10) | numeric(38,10) | decimal(38,10)",
                    "1234567890123456789012345678.0000000001", "1234567890123456789012345678.0000000002"),
            subject("single", "FLOAT | REAL | FLOAT | real | float", "0.5", "0.50000006", "16777216", "16777214"),
            subject(
                    "dbl",
                    "DOUBLE | DOUBLE PRECISION | DOUBLE | double precision | double",
                    "0.1",
                    "0.10000000000000002",
                    "4.9e-324",
                    "9.9e-324",
                    "1.7976931348623157e308",
                    "1.7976931348623155e308",
                    "-0.0",
                    "4.9e-324"),
            subject("flag", "BOOLEAN | BOOLEAN | BOOLEAN | boolean | tinyint(1)", "1", "0", "0", "1"),
            subject("fixed", "CHAR(5) | CHAR(5) | VARCHAR | char(5) | char(5)", "ab", "aB", "", "a", "é", "è"),
            subject(
                    "words",
                    "VARCHAR(50) | VARCHAR(50) | VARCHAR | varchar(50) | varchar(50)",
                    "a ",
                    "a",
                    "",
                    " ",
                    "Straße",
                    "Strasse",
                    "🌊",
                    "🌋",
                    "e\u0301",
                    "é",
                    "\\",
                    "\\\\"),
            subject("long_words", "CLOB | CLOB | VARCHAR | text | longtext", "x".repeat(5000), "x".repeat(4999) + "y"),
            subject(
                    "a_day",
                    "DATE | DATE | DATE | date | date",
                    "1000-01-01",
                    "1000-01-02",
                    "9999-12-31",
                    "9999-12-30",
                    "2024-02-29",
                    "2024-02-28"),
            subject(
                    "an_hour",
                    "TIME | TIME(3) | TIME | time(3) | time(3)",
                    "23:59:59.999",
                    "23:59:59.998",
                    "00:00:00",
                    "00:00:00.001"),
            subject(
                    "moment",
                    "TIMESTAMP | TIMESTAMP(6) | TIMESTAMP | timestamp | datetime(6)",
                    "2026-03-29 02:30:00.000001",
                    "2026-03-29 02:30:00.000002",
                    "1000-01-01 00:00:00",
                    "1000-01-01 00:00:00.000001",
                    "9999-12-31 23:59:59.999999",
                    "9999-12-31 23:59:59.999998"),
            subject(
                    "instant",
                    "TIMESTAMPTZ | TIMESTAMP(6) WITH TIME ZONE | TIMESTAMPTZ | timestamptz | timestamp(6)",
                    "2026-10-25 01:30:00+00",
                    "2026-10-25 00:30:00+00",
                    "2037-12-31 23:59:59.999999+00",
                    "2037-12-31 23:59:59.999998+00"),
            subject(
                    "ident", "UUID | UUID | UUID | uuid | uuid",
                    "ffffffff-ffff-ffff-ffff-ffffffffffff", "ffffffff-ffff-ffff-ffff-fffffffffffe",
                    "00000000-0000-0000-0000-000000000000", "00000000-0000-0000-0000-000000000001"),
            subject(
                    "ident_text", "CHAR(36) | UUID | VARCHAR | uuid | char(36)",
                    "12345678-1234-1234-1234-123456789abc", "12345678-1234-1234-1234-123456789abd"),
            subject(
                    "document",
                    "JSON | JSON | JSON | jsonb | json",
                    "{\"b\": [1, 2.0], \"a\": null}",
                    "{\"b\": [1, 2.1], \"a\": null}",
                    "[]",
                    "{}",
                    "\"\\u00e9\"",
                    "\"e\""));

    @TempDir
    static Path folder;

    private static final Map<Database.Kind, Database> DATABASES = new LinkedHashMap<>();

    @BeforeAll
    static void write() throws Exception {
        for (Database.Kind kind : Database.Kind.values()) {
            Database database = new Database(kind, folder, "matrix");
            DATABASES.put(kind, database);
            fill(database, "base", 0);
            fill(database, "nudged", 1);
            for (Database.Kind from : Database.Kind.values()) {
                database.execute(create(database, copyOf(from)));
            }
        }
    }

    private static String copyOf(Database.Kind from) {
        return "copy_of_" + from.name().toLowerCase();
    }

    private static int rows() {
        return SUBJECTS.stream().mapToInt(s -> s.values().size() / 2).max().orElseThrow() + 1;
    }

    /** Row n has edge value n of every kind, NULL where there are fewer; the last row is all NULL. */
    private static void fill(Database database, String table, int offset) throws Exception {
        List<String> statements = new ArrayList<>();
        statements.add(create(database, table));
        for (int row = 0; row < rows(); row++) {
            int place = row * 2 + offset;
            String values = SUBJECTS.stream()
                    .map(s -> place < s.values().size()
                            ? literal(database.kind(), s, s.values().get(place))
                            : "NULL")
                    .collect(Collectors.joining(", "));
            statements.add("INSERT INTO " + table + " VALUES (" + row + ", " + values + ")");
        }
        database.execute(statements.toArray(new String[0]));
    }

    private static String create(Database database, String table) {
        String columns = SUBJECTS.stream()
                .map(s ->
                        s.name() + " " + s.declared().get(database.kind().like().ordinal()) + " NULL")
                .collect(Collectors.joining(", "));
        if (database.kind() == Database.Kind.MYSQL) {
            // The oldest one has neither.
            columns = columns.replace(" uuid ", " char(36) ").replace(" json ", " longtext ");
        }
        if (database.kind() == Database.Kind.DUCKDB) {
            columns = columns.replace(" NULL,", ",").replaceAll(" NULL$", "");
        }
        return "CREATE TABLE " + table + " (id INTEGER PRIMARY KEY, " + columns + ")";
    }

    private static String literal(Database.Kind kind, Subject subject, String value) {
        String text = "'" + value.replace("'", "''") + "'";
        if (kind.like() == Database.Kind.MARIADB) {
            text = text.replace("\\", "\\\\").replace("+00'", "'");
        }
        return switch (subject.name()) {
            case "flag" ->
                kind == Database.Kind.SQLITE || kind.like() == Database.Kind.MARIADB
                        ? value
                        : value.equals("1") ? "TRUE" : "FALSE";
            case "document" -> kind == Database.Kind.H2 ? "JSON " + text : text;
            case "dbl" -> kind == Database.Kind.SQLITE || kind.like() == Database.Kind.MARIADB ? value : text;
            default -> text;
        };
    }

    static Stream<Arguments> pairs() {
        return Database.Kind.pairs();
    }

    @ParameterizedTest
    @MethodSource("pairs")
    void sameValueIsSameAndSmallestStepIsFound(Database.Kind from, Database.Kind to) throws Exception {
        String source = DATABASES.get(from).address() + "#base";
        Tool tool = new Tool(folder);
        Tool.Result same = tool.run("compare", source, DATABASES.get(to).address() + "#base");
        assertThat(same.code()).as(() -> same.all() + tool.run("show").out()).isZero();

        Tool.Result nudged = tool.run("compare", source, DATABASES.get(to).address() + "#nudged");
        assertThat(nudged.code()).as(nudged.all()).isEqualTo(1);
        Set<String> found = new TreeSet<>();
        for (String line : tool.run("show", "--format", "jsonl").out().split("\n")) {
            JsonNode finding = JSON.readTree(line);
            finding.get("differs")
                    .properties()
                    .forEach(d -> found.add(finding.get("key").elements().next() + " "
                            + d.getKey().toLowerCase()));
        }
        assertThat(found).isEqualTo(expected());
    }

    private static Set<String> expected() {
        Set<String> expected = new TreeSet<>();
        for (int row = 0; row < rows(); row++) {
            for (Subject subject : SUBJECTS) {
                if (row * 2 < subject.values().size()) {
                    expected.add(row + " " + subject.name());
                }
            }
        }
        return expected;
    }

    @ParameterizedTest
    @MethodSource("pairs")
    void valuesCopiedByApplyArriveExactlyAndGoAgain(Database.Kind from, Database.Kind to) throws Exception {
        String source = DATABASES.get(from).address() + "#base";
        String copy = DATABASES.get(to).address() + "#" + copyOf(from);
        Tool tool = new Tool(folder);
        assertThat(tool.run("compare", source, copy).code()).isEqualTo(1);
        Path run = tool.latestRun();
        Tool.Result applied = tool.run("apply", "--yes");
        assertThat(applied.code())
                .as(() -> applied.all() + tool.run("show").out())
                .isZero();
        // The oldest MySQL has no JSON, and another engine writes it in its own way.
        List<String> again =
                new ArrayList<>(List.of("compare", DATABASES.get(to).address() + "#base", copy));
        if (to == Database.Kind.MYSQL) {
            again.addAll(List.of("--leave-out-column", "document"));
        }
        Tool.Result own = tool.run(again.toArray(String[]::new));
        assertThat(own.code())
                .as(() -> "as if written there: " + own.all() + tool.run("show").out())
                .isZero();
        Tool.Result undone = DATABASES.get(to).runScript(run.resolve("undo-apply.sql"));
        assertThat(undone.code()).as(undone.all()).isZero();
        assertThat(DATABASES.get(to).values("SELECT id FROM " + copyOf(from))).isEmpty();
    }
}
