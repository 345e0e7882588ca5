package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.math.BigDecimal;
import java.math.RoundingMode;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Random;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;
import sharptally.acceptance.Database.Kind;

/** Totals of random rows, worked out by every engine and, row by row, by this test. */
class TotalsTest {
    private static final String[] GROUPS = {"a", "A", "ä", "b ", "b", "霧", ""};

    @TempDir
    Path folder;

    static Stream<Arguments> rounds() {
        return JobFileEnginesTest.rounds();
    }

    /** One row; any value but the group may be null. */
    private record Row(int id, String group, Long whole, BigDecimal exact, Double floating, String text, String time) {}

    private static List<Row> rows(Random random) {
        List<Row> rows = new ArrayList<>();
        for (int id = 1; id <= 400; id++) {
            rows.add(new Row(
                    id,
                    GROUPS[random.nextInt(GROUPS.length)],
                    random.nextInt(9) == 0 ? null : random.nextLong() / 500,
                    random.nextInt(9) == 0 ? null : BigDecimal.valueOf(random.nextInt(2_000_000) - 1_000_000, 4),
                    random.nextInt(9) == 0 ? null : random.nextGaussian() * 1e6,
                    random.nextInt(9) == 0 ? null : GROUPS[random.nextInt(GROUPS.length)] + random.nextInt(50),
                    random.nextInt(9) == 0
                            ? null
                            : "20%02d-%02d-%02d %02d:00:00"
                                    .formatted(
                                            20 + random.nextInt(3),
                                            1 + random.nextInt(12),
                                            1 + random.nextInt(28),
                                            random.nextInt(24))));
        }
        return rows;
    }

    private static Database filled(Database database, List<Row> rows) throws Exception {
        boolean maria = database.kind().like() == Kind.MARIADB;
        database.execute("CREATE TABLE t (id INTEGER PRIMARY KEY, grp VARCHAR(9), whole BIGINT, exact DECIMAL(12,4),"
                + " floating DOUBLE PRECISION, txt VARCHAR(20), tim " + (maria ? "DATETIME" : "TIMESTAMP") + ")"
                + (maria ? " CHARACTER SET utf8mb4 COLLATE utf8mb4_general_ci" : ""));
        try (Connection connection = database.connect();
                PreparedStatement insert = connection.prepareStatement("INSERT INTO t VALUES (?, ?, ?, ?, ?, ?, "
                        + (database.kind() == Kind.SQLITE
                                ? "?"
                                : "CAST(? AS " + (maria ? "DATETIME" : "TIMESTAMP") + ")")
                        + ")")) {
            connection.setAutoCommit(false);
            for (Row row : rows) {
                insert.setInt(1, row.id());
                insert.setString(2, row.group());
                insert.setObject(3, row.whole());
                if (database.kind() == Kind.SQLITE) {
                    insert.setString(4, row.exact() == null ? null : row.exact().toPlainString());
                } else {
                    insert.setBigDecimal(4, row.exact());
                }
                insert.setObject(5, row.floating());
                insert.setString(6, row.text());
                insert.setString(7, row.time());
                insert.executeUpdate();
            }
            connection.commit();
        }
        return database;
    }

    private static String plain(BigDecimal number) {
        return number.signum() == 0 ? "0" : number.stripTrailingZeros().toPlainString();
    }

    private static <T extends Comparable<T>> void order(
            Map<String, String> into, String column, List<T> values, Function<T, String> text) {
        into.put("filled(" + column + ")", String.valueOf(values.size()));
        into.put(
                "distinct(" + column + ")",
                String.valueOf(values.stream().distinct().count()));
        values.stream().min(T::compareTo).ifPresent(v -> into.put("min(" + column + ")", text.apply(v)));
        values.stream().max(T::compareTo).ifPresent(v -> into.put("max(" + column + ")", text.apply(v)));
    }

    private static void sum(Map<String, String> into, String column, List<BigDecimal> values) {
        BigDecimal sum = values.stream().reduce(BigDecimal.ZERO, BigDecimal::add);
        if (!values.isEmpty()) {
            into.put("sum(" + column + ")", plain(sum));
            into.put(
                    "mean(" + column + ")",
                    plain(sum.divide(BigDecimal.valueOf(values.size()), 10, RoundingMode.HALF_UP)));
        }
    }

    private static <T> List<T> known(List<Row> rows, Function<Row, T> part) {
        return rows.stream().map(part).filter(Objects::nonNull).toList();
    }

    /** Every figure of some rows but those of floating sums, as the program writes them. */
    private static Map<String, String> figures(List<Row> rows) {
        Map<String, String> figures = new TreeMap<>();
        figures.put("rows", String.valueOf(rows.size()));
        order(figures, "whole", known(rows, Row::whole), String::valueOf);
        sum(figures, "whole", known(rows, r -> r.whole() == null ? null : BigDecimal.valueOf(r.whole())));
        order(figures, "exact", known(rows, Row::exact), TotalsTest::plain);
        sum(figures, "exact", known(rows, Row::exact));
        order(figures, "txt", known(rows, Row::text), v -> "'" + v + "'");
        order(figures, "tim", known(rows, Row::time), v -> v);
        order(figures, "floating", known(rows, Row::floating), v -> plain(BigDecimal.valueOf(v)));
        long bytes = known(rows, Row::text).stream()
                .mapToLong(t -> t.getBytes(StandardCharsets.UTF_8).length)
                .sum();
        figures.put("length(txt)", String.valueOf(bytes));
        return figures;
    }

    @ParameterizedTest(name = "{0} > {1}")
    @MethodSource("rounds")
    void everyEngineWorksOutWhatTheRowsSay(Kind from, Kind to) throws Exception {
        long seed = Seed.next();
        System.out.println("totals " + from + " > " + to + ", seed " + seed);
        Random random = new Random(seed);
        List<Row> rows = rows(random);
        Database source = filled(new Database(from, folder, "src"), rows);
        Database target = filled(new Database(to, folder, "tgt"), rows);
        Tool tool = new Tool(folder);

        Tool.Result held = tool.run(
                "totals",
                source.address(),
                target.address(),
                "--figure",
                "all",
                "--all",
                "--format",
                "json",
                "--column",
                "whole,exact,txt,tim,floating");
        assertThat(held.code()).as(held.all()).isZero();
        JsonNode totals = held.json().get("run").get("totals").get(0);
        Map<String, String> expected = figures(rows);
        Map<String, String> ofSource = new TreeMap<>();
        Map<String, String> ofTarget = new TreeMap<>();
        totals.get("lines").forEach(line -> {
            String figure = (line.get("column").asText().isEmpty()
                            ? line.get("measure").asText()
                            : line.get("measure").asText() + "("
                                    + line.get("column").asText() + ")")
                    .toLowerCase();
            if (expected.containsKey(figure)) {
                ofSource.put(figure, line.get("source").asText());
                ofTarget.put(figure, line.get("target").asText());
            }
        });
        assertThat(ofSource).as("seed " + seed).isEqualTo(expected);
        assertThat(ofTarget).as("seed " + seed).isEqualTo(expected);

        String[] grouped = {
            "totals", source.address(), target.address(), "--by", "grp,tim:month", "--figure", "all", "--format", "json"
        };
        assertThat(tool.run(grouped).code()).as("seed " + seed).isZero();
        Row nudged = rows.stream()
                .filter(r -> r.exact() != null && r.time() != null)
                .findAny()
                .orElseThrow();
        target.execute("UPDATE t SET exact = "
                + nudged.exact().add(new BigDecimal("0.0001")).toPlainString() + " WHERE id = " + nudged.id());
        Tool.Result broken = tool.run(grouped);
        assertThat(broken.code()).as(broken.all()).isEqualTo(1);
        JsonNode result = broken.json().get("run").get("totals").get(0);
        long groups = rows.stream()
                .collect(Collectors.groupingBy(r -> r.group() + "|" + month(r.time())))
                .size();
        assertThat(result.get("groups").asLong()).as("seed " + seed).isEqualTo(groups);
        result.get("lines")
                .forEach(line -> assertThat(line.get("group").get(0).asText() + "|"
                                + line.get("group").get(1).asText())
                        .isEqualTo(nudged.group() + "|" + month(nudged.time())));
        assertThat(result.get("lines"))
                .anySatisfy(line -> assertThat(line.get("difference").asText()).isEqualTo("0.0001"));

        String most = figures(rows).get("max(whole)");
        assertThat(tool.run(
                                "totals",
                                target.address() + "#t",
                                "--expect",
                                "max(whole) = " + most,
                                "--expect",
                                "nulls(txt) = " + (400 - known(rows, Row::text).size()))
                        .code())
                .isZero();
        assertThat(tool.run("totals", target.address() + "#t", "--expect", "rows > 400")
                        .code())
                .isEqualTo(1);
    }

    private static String month(String time) {
        return time == null ? "NULL" : time.substring(0, 7);
    }

    /** What only one side has is told and counts, in totals alone and besides a comparison, once each. */
    @Test
    void whatOneSideLacksIsNotAgreement() throws Exception {
        Database source = new Database(Database.Kind.SQLITE, folder, "one");
        Database target = new Database(Database.Kind.SQLITE, folder, "two");
        source.execute("CREATE TABLE a (id INTEGER PRIMARY KEY, x INTEGER, y INTEGER)", "CREATE TABLE b (id INTEGER)");
        target.execute("CREATE TABLE a (id INTEGER PRIMARY KEY, x INTEGER)", "CREATE TABLE c (id INTEGER)");
        Tool tool = new Tool(folder);
        Tool.Result totals = tool.run("totals", source.address(), target.address());
        assertThat(totals.code()).as(totals.all()).isEqualTo(1);
        assertThat(totals.out())
                .contains("column(y)", "source only", "totals differ: 1 of ", "2 tables on one side only");
        assertThat(tool.run("totals", source.address() + "#a", target.address() + "#a", "--column", "x")
                        .code())
                .isZero();
        assertThat(tool.run("totals", source.address() + "#a", target.address() + "#a", "--leave-out-column", "y")
                        .code())
                .isZero();
        Tool.Result compared = tool.run("compare", source.address(), target.address(), "--totals-first", "all");
        assertThat(compared.out()).contains("1 missing table, 1 extra table, 1 missing column");
        assertThat(tool.run("show", "--view", "totals").out()).contains("2 tables on one side only");
    }
}
