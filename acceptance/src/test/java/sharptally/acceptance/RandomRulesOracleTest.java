package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.math.BigDecimal;
import java.math.RoundingMode;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.LocalDateTime;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collection;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.BiPredicate;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;

/**
 * Random rules, conditions and key ranges over random rows, on every pair of engines: what differs, and what is the same
 * only by a rule, is what a plain row-by-row reading of the rules says.
 */
class RandomRulesOracleTest {
    private static final int ROUNDS = Integer.getInteger("sharptally.rounds", 1);
    private static final List<String> COLUMNS = List.of("grp", "level", "slope", "name", "code", "taken");

    /** A rule as a job file has it, and when two values that are not NULL are the same by it. */
    private record Ruled(String text, BiPredicate<Object, Object> same) {}

    private static final Ruled NONE = new Ruled("", Object::equals);

    private static final Map<String, List<Ruled>> RULES = Map.of(
            "grp", List.of(NONE),
            "level",
                    List.of(
                            NONE,
                            new Ruled("within: 0.5", (a, b) -> apart(a, b).compareTo(new BigDecimal("0.5")) <= 0),
                            new Ruled(
                                    "within: 1%",
                                    (a, b) ->
                                            apart(a, b).compareTo(greater(a, b).movePointLeft(2)) <= 0),
                            new Ruled("decimals: 2", (a, b) -> rounded(a).equals(rounded(b)))),
            "slope",
                    List.of(
                            NONE,
                            new Ruled("within: 0.000001", (a, b) -> Math.abs((Double) a - (Double) b) < 0.000001)),
            "name",
                    List.of(
                            NONE,
                            new Ruled("case: ignore", (a, b) -> folded(a).equals(folded(b))),
                            new Ruled("spaces: outer", (a, b) -> text(a).strip().equals(text(b).strip())),
                            new Ruled("spaces: any", (a, b) -> thin(a).equals(thin(b))),
                            new Ruled(
                                    "case: ignore, spaces: any",
                                    (a, b) -> thin(folded(a)).equals(thin(folded(b)))),
                            new Ruled("empty-as-null: true", Object::equals)),
            "code",
                    List.of(
                            NONE,
                            new Ruled(
                                    "same-as: {N: north, S: south}",
                                    (a, b) -> translated(a).equals(b))),
            "taken",
                    List.of(
                            NONE,
                            new Ruled(
                                    "within: 2 s",
                                    (a, b) -> Duration.between((LocalDateTime) a, (LocalDateTime) b)
                                                    .abs()
                                                    .compareTo(Duration.ofSeconds(2))
                                            <= 0),
                            new Ruled(
                                    "precision: second",
                                    (a, b) -> cut(a, ChronoUnit.SECONDS).equals(cut(b, ChronoUnit.SECONDS))),
                            new Ruled(
                                    "precision: minute",
                                    (a, b) -> cut(a, ChronoUnit.MINUTES).equals(cut(b, ChronoUnit.MINUTES)))));

    @TempDir
    Path folder;

    private Random random;

    private static BigDecimal apart(Object a, Object b) {
        return ((BigDecimal) a).subtract((BigDecimal) b).abs();
    }

    private static BigDecimal greater(Object a, Object b) {
        return ((BigDecimal) a).abs().max(((BigDecimal) b).abs());
    }

    private static BigDecimal rounded(Object a) {
        return ((BigDecimal) a).setScale(2, RoundingMode.HALF_UP);
    }

    private static String text(Object a) {
        return (String) a;
    }

    private static String folded(Object a) {
        return text(a).toUpperCase(Locale.ROOT).toLowerCase(Locale.ROOT);
    }

    private static String thin(Object a) {
        return text(a).strip().replaceAll("\\s+", " ");
    }

    private static String translated(Object a) {
        return Map.of("N", "north", "S", "south").getOrDefault(text(a), text(a));
    }

    private static LocalDateTime cut(Object a, ChronoUnit unit) {
        return ((LocalDateTime) a).truncatedTo(unit);
    }

    static Stream<Arguments> pairs() {
        return Database.Kind.pairs();
    }

    @ParameterizedTest
    @MethodSource("pairs")
    void findsWhatTheRulesSay(Database.Kind from, Database.Kind to) throws Exception {
        long seed = Seed.next();
        for (int round = 0; round < ROUNDS; round++) {
            System.out.println("seed " + (seed + round) + " " + from + " " + to);
            random = new Random(seed + round);
            play(from, to, Files.createDirectory(folder.resolve("round" + round)), "seed " + (seed + round));
        }
    }

    private void play(Database.Kind from, Database.Kind to, Path here, String story) throws Exception {
        Map<Integer, Object[]> ofSource = new TreeMap<>();
        Map<Integer, Object[]> ofTarget = new TreeMap<>();
        for (int id = 1; id <= 120; id++) {
            Object[] row = row();
            int fate = random.nextInt(12);
            if (fate != 0) {
                ofSource.put(id, row);
            }
            if (fate != 1) {
                ofTarget.put(id, fate < 5 ? row : nudged(row));
            }
        }
        Database source = table(new Database(from, here, "source"), ofSource);
        Database target = table(new Database(to, here, "target"), ofTarget);

        Map<String, Ruled> rules = new TreeMap<>();
        COLUMNS.forEach(column -> rules.put(
                column, RULES.get(column).get(random.nextInt(RULES.get(column).size()))));
        Optional<Integer> belowInSource = random.nextInt(3) == 0 ? Optional.of(random.nextInt(8)) : Optional.empty();
        Optional<Integer> belowInTarget = random.nextBoolean() ? belowInSource : Optional.empty();
        int first = random.nextInt(3) == 0 ? random.nextInt(60) : 0;
        int end = first > 0 ? first + 1 + random.nextInt(80) : 1_000;
        Optional<If> asked = random.nextBoolean() ? Optional.of(condition(ofSource.values())) : Optional.empty();
        Map<Integer, Object[]> one = chosen(ofSource, belowInSource, first, end);
        Map<Integer, Object[]> other = chosen(ofTarget, belowInTarget, first, end);
        asked.ifPresent(condition -> {
            one.values().removeIf(row -> !condition.isMet(row));
            other.values().removeIf(row -> !condition.isMet(row));
        });

        StringBuilder jobFile = new StringBuilder("job: 1\nsource: \"" + source.address() + "\"\ntarget: \""
                + target.address() + "\"\nmatches:\n  - source: reading\n    columns:\n");
        rules.forEach((column, rule) -> jobFile.append("      - {source: " + column + ", target: " + column
                + (rule.text.isEmpty() ? "" : ", " + rule.text) + "}\n"));
        List<String> conditions = new ArrayList<>();
        belowInSource.ifPresent(n -> conditions.add("source: grp < " + n));
        belowInTarget.ifPresent(n -> conditions.add("target: grp < " + n));
        if (!conditions.isEmpty()) {
            jobFile.append("    where: {" + String.join(", ", conditions) + "}\n");
        }
        Files.writeString(here.resolve("job.yaml"), jobFile.toString());
        List<String> command = new ArrayList<>(
                List.of("compare", "--job", "job.yaml", "--allow-empty", "--workers", "" + (1 + random.nextInt(3))));
        if (first > 0) {
            command.addAll(List.of("--key-range", first + ".." + end));
        }
        asked.ifPresent(condition -> command.addAll(List.of("--if", condition.text())));
        command.addAll(List.of("--range-rows", "" + (20 + random.nextInt(100)), "--format", "json"));
        Tool tool = new Tool(here);
        Tool.Result compared = tool.run(command.toArray(new String[0]));
        String all = story + "\n" + jobFile + String.join(" ", command) + "\n" + compared.all();
        Map<String, Set<String>> expected = expected(one, other, rules);
        assertThat(compared.code()).as(all).isEqualTo(expected.isEmpty() ? 0 : 1);
        JsonNode match = compared.json().get("run").get("matches").get(0);
        assertThat(match.get("source-rows").asInt()).as(all).isEqualTo(one.size());
        assertThat(match.get("target-rows").asInt()).as(all).isEqualTo(other.size());
        Map<String, Integer> byRule = new TreeMap<>();
        match.get("same-by-rule")
                .forEach(r -> byRule.merge(
                        r.get("column").asText().toLowerCase(), r.get("rows").asInt(), Integer::sum));
        assertThat(byRule).as(all).isEqualTo(sameByRule(one, other, rules));
        assertThat(findings(tool)).as(all).isEqualTo(expected);

        if (conditions.isEmpty() && asked.isEmpty()) {
            Tool.Result applied = tool.run("apply", "--yes");
            assertThat(applied.code()).as(all + applied.all()).isZero();
            Tool.Result again = tool.run(command.toArray(new String[0]));
            assertThat(again.code()).as(all + again.all()).isZero();
        }
    }

    /** A condition of ours, which means the same in every database: NULL meets none, text goes by its bytes. */
    private record If(int column, String operator, Object value) {
        String text() {
            String shown =
                    value instanceof String ? "'" + value + "'" : literal(value).replace("'", "");
            return COLUMNS.get(column) + " " + operator + (operator.startsWith("is") ? "" : " " + shown);
        }

        boolean isMet(Object[] row) {
            Object held = row[column];
            if (operator.startsWith("is")) {
                return (held == null) == operator.equals("is null");
            }
            if (held == null) {
                return false;
            }
            int order = held instanceof String text
                    ? Arrays.compareUnsigned(
                            text.getBytes(StandardCharsets.UTF_8), ((String) value).getBytes(StandardCharsets.UTF_8))
                    : compared((Comparable<?>) held, value);
            return switch (operator) {
                case "=" -> order == 0;
                case "!=", "<>" -> order != 0;
                case "<" -> order < 0;
                case "<=" -> order <= 0;
                case ">" -> order > 0;
                default -> order >= 0;
            };
        }

        @SuppressWarnings("unchecked")
        private static <T> int compared(Comparable<T> held, Object with) {
            return held.compareTo((T) with);
        }
    }

    /** Of a value that a row of the source has, so that some rows meet it and others do not. */
    private If condition(Collection<Object[]> rows) {
        List<Object[]> all = List.copyOf(rows);
        int column = random.nextInt(COLUMNS.size());
        Object value = all.get(random.nextInt(all.size()))[column];
        return value == null
                ? new If(column, random.nextBoolean() ? "is null" : "is not null", "")
                : new If(column, List.of("=", "!=", "<>", "<", "<=", ">", ">=").get(random.nextInt(7)), value);
    }

    private static Map<String, Set<String>> findings(Tool tool) throws Exception {
        Map<String, Set<String>> found = new TreeMap<>();
        for (String line : tool.run("show", "--format", "jsonl").out().split("\n")) {
            if (!line.isEmpty()) {
                JsonNode finding = new ObjectMapper().readTree(line);
                Set<String> differs = new TreeSet<>();
                finding.path("differs")
                        .properties()
                        .forEach(f -> differs.add(f.getKey().toLowerCase()));
                found.put(
                        finding.get("kind").asText() + " "
                                + finding.get("key").elements().next().asText(),
                        differs);
            }
        }
        return found;
    }

    private static Map<Integer, Object[]> chosen(
            Map<Integer, Object[]> rows, Optional<Integer> below, int first, int end) {
        return rows.entrySet().stream()
                .filter(e -> e.getKey() >= first && e.getKey() < end)
                .filter(e -> below.isEmpty() || e.getValue()[0] != null && ((Integer) e.getValue()[0]) < below.get())
                .collect(Collectors.toMap(Map.Entry::getKey, Map.Entry::getValue, (a, b) -> a, TreeMap::new));
    }

    private static boolean same(Ruled rule, Object a, Object b) {
        if (rule.text.startsWith("empty-as-null")) {
            return ("".equals(a) ? Optional.empty() : Optional.ofNullable(a))
                    .equals("".equals(b) ? Optional.empty() : Optional.ofNullable(b));
        }
        return a == null || b == null ? a == b : rule.same.test(a, b);
    }

    private static boolean equal(Object a, Object b) {
        return a == null || b == null
                ? a == b
                : a instanceof BigDecimal d ? d.compareTo((BigDecimal) b) == 0 : a.equals(b);
    }

    private static Map<String, Set<String>> expected(
            Map<Integer, Object[]> one, Map<Integer, Object[]> other, Map<String, Ruled> rules) {
        Map<String, Set<String>> expected = new TreeMap<>();
        one.forEach((id, row) -> {
            if (!other.containsKey(id)) {
                expected.put("missing " + id, Set.of());
                return;
            }
            Set<String> differing = new TreeSet<>();
            for (int c = 0; c < COLUMNS.size(); c++) {
                if (!same(rules.get(COLUMNS.get(c)), row[c], other.get(id)[c])) {
                    differing.add(COLUMNS.get(c));
                }
            }
            if (!differing.isEmpty()) {
                expected.put("changed " + id, differing);
            }
        });
        other.keySet().stream().filter(id -> !one.containsKey(id)).forEach(id -> expected.put("extra " + id, Set.of()));
        return expected;
    }

    private static Map<String, Integer> sameByRule(
            Map<Integer, Object[]> one, Map<Integer, Object[]> other, Map<String, Ruled> rules) {
        Map<String, Integer> counts = new TreeMap<>();
        one.forEach((id, row) -> {
            for (int c = 0; other.containsKey(id) && c < COLUMNS.size(); c++) {
                Object there = other.get(id)[c];
                if (!equal(row[c], there) && same(rules.get(COLUMNS.get(c)), row[c], there)) {
                    counts.merge(COLUMNS.get(c), 1, Integer::sum);
                }
            }
        });
        return counts;
    }

    private Object[] row() {
        return new Object[] {
            random.nextInt(9) == 0 ? null : random.nextInt(9),
            random.nextInt(9) == 0 ? null : BigDecimal.valueOf(random.nextInt(4_000_000) - 2_000_000, 4),
            random.nextInt(9) == 0 ? null : (Object) (random.nextInt(1_000) / 7.0),
            pick(null, "", "Crow Point", "crow  point", " Skerry", "SKERRY ", "Ytre ø"),
            pick(null, "N", "S", "north", "south", "?"),
            random.nextInt(9) == 0
                    ? null
                    : LocalDateTime.of(2026, 3, 1, 0, 0)
                            .plusSeconds(random.nextInt(10_000_000))
                            // Half of them with zeros at the end, which are written in SQLite, and say nothing.
                            .plusNanos(
                                    random.nextBoolean()
                                            ? random.nextInt(10) * 100_000_000L
                                            : random.nextInt(1_000_000) * 1_000L)
        };
    }

    private Object pick(Object... from) {
        return from[random.nextInt(from.length)];
    }

    /** A copy with some cells a little or wholly different. */
    private Object[] nudged(Object[] row) {
        Object[] copy = row.clone();
        Object[] fresh = row();
        for (int c = 0; c < copy.length; c++) {
            if (random.nextInt(3) > 0) {
                continue;
            }
            if (copy[c] == null || random.nextInt(3) == 0) {
                copy[c] = fresh[c];
            } else if (copy[c] instanceof BigDecimal level) {
                copy[c] = level.add(BigDecimal.valueOf(random.nextInt(12_000) - 6_000, random.nextInt(3) + 2)
                        .setScale(4, RoundingMode.DOWN));
            } else if (copy[c] instanceof Double slope) {
                copy[c] = slope + (random.nextBoolean() ? 1e-9 : 1e-3);
            } else if (copy[c] instanceof LocalDateTime taken) {
                copy[c] = taken.plusNanos((random.nextInt(6_000_000) - 3_000_000) * 1_000L);
            } else if (copy[c] instanceof String text) {
                String[] ways = {text.toUpperCase(Locale.ROOT), text + " ", " " + text, text.replace(" ", "  "), ""};
                copy[c] = translated(random.nextBoolean() ? text : ways[random.nextInt(ways.length)]);
            }
        }
        return copy;
    }

    private static Database table(Database database, Map<Integer, Object[]> rows) throws Exception {
        Database.Kind kind = database.kind();
        String time = kind.like() == Database.Kind.MARIADB
                ? "DATETIME(6)"
                : kind == Database.Kind.H2 ? "TIMESTAMP(6)" : "TIMESTAMP";
        List<String> statements = new ArrayList<>(List.of("CREATE TABLE reading (id INTEGER PRIMARY KEY, grp INTEGER,"
                + " level DECIMAL(12,4), slope DOUBLE PRECISION, name VARCHAR(40), code VARCHAR(12), taken " + time
                + ")"));
        rows.forEach((id, row) -> statements.add("INSERT INTO reading VALUES (" + id + ", "
                + Stream.of(row).map(RandomRulesOracleTest::literal).collect(Collectors.joining(", ")) + ")"));
        return database.execute(statements.toArray(new String[0]));
    }

    private static String literal(Object value) {
        if (value instanceof LocalDateTime time) {
            String text = time.truncatedTo(ChronoUnit.SECONDS).toString().replace('T', ' ');
            return "'" + (text.length() == 16 ? text + ":00" : text) + "."
                    + String.format(Locale.ROOT, "%06d", time.getNano() / 1_000) + "'";
        }
        return value instanceof String text
                ? "'" + text + "'"
                : value instanceof BigDecimal number
                        ? number.toPlainString()
                        : value == null ? "NULL" : value.toString();
    }
}
