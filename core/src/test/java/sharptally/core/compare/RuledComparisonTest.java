package sharptally.core.compare;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.math.BigDecimal;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import org.junit.jupiter.api.RepeatedTest;
import org.junit.jupiter.api.Test;
import sharptally.core.compare.stream.TableComparison;
import sharptally.core.finding.FindingKind;
import sharptally.core.match.MatchPlanner;
import sharptally.core.match.TableMatch;
import sharptally.core.match.request.LeftOutColumns;
import sharptally.core.match.request.MatchRequest;
import sharptally.core.match.request.RuleRequest;
import sharptally.core.match.text.Glob;
import sharptally.core.place.Extract;
import sharptally.core.rule.Rule;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Generation;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;

/** Comparisons by rules, in the key and outside it, against an oracle that has the rules written out by hand. */
class RuledComparisonTest {
    private static final TableShape TABLE = new TableShape(
            TableName.of("rows"),
            false,
            List.of(column("k", Kind.TEXT), column("n", Kind.DOUBLE), column("w", Kind.TEXT)),
            List.of(),
            List.of(),
            false);
    private static final String[] KEYS = {"a", "A", " a", "b", "B ", "c", "ß", "SS"};
    private static final String[] WORDS = {"N", "north", "S", "", "x", "X"};

    private static ColumnShape column(String name, Kind kind) {
        return new ColumnShape(
                name, kind.name(), Optional.of(CanonicalType.of(kind)), true, Generation.NONE, Optional.empty());
    }

    private static RuleRequest rule(String column, Rule... rules) {
        Map<String, Optional<Rule>> settings = new HashMap<>();
        for (Rule rule : rules) {
            settings.put(rule.word(), Optional.of(rule));
        }
        return new RuleRequest(Optional.of(new Glob(column)), Optional.empty(), settings);
    }

    private static TableMatch match(List<String> key, RuleRequest... rules) {
        return MatchPlanner.plan(
                TABLE,
                TABLE,
                new MatchRequest(
                        Optional.empty(),
                        Extract.ofTable("rows"),
                        Extract.ofTable("rows"),
                        key,
                        List.of(),
                        LeftOutColumns.NONE,
                        List.of(rules),
                        false));
    }

    private static final Rule.Within WITHIN = new Rule.Within(new BigDecimal("0.5"), new BigDecimal("0.1"), false);
    private static final Rule.SameAs SAME = new Rule.SameAs(Map.of("N", "north"), Set.of(""));

    private static String canonicalKey(Value value) {
        return ((Value.Text) value).value().strip().toUpperCase().toLowerCase();
    }

    private static boolean near(Value one, Value other) {
        double a = ((Value.Double) one).value();
        double b = ((Value.Double) other).value();
        return Math.abs(a - b) <= 0.5 || Math.abs(a - b) <= 0.1 * Math.max(Math.abs(a), Math.abs(b));
    }

    private static boolean sameWord(Value source, Value target) {
        String text = ((Value.Text) source).value();
        Optional<String> translated =
                text.isEmpty() ? Optional.empty() : Optional.of(text.equals("N") ? "north" : text);
        return translated.isEmpty()
                ? target instanceof Value.Null
                : target instanceof Value.Text t && translated.get().equalsIgnoreCase(t.value());
    }

    /** Rows whose keys are different by the rules of the key. */
    private static Map<String, List<Value>> rows(Random random, boolean source) {
        Map<String, List<Value>> rows = new HashMap<>();
        for (int i = 0; i < 40; i++) {
            String number = random.nextInt(12) + "";
            Value key = new Value.Text(KEYS[random.nextInt(KEYS.length)] + number + (random.nextBoolean() ? " " : ""));
            String word = WORDS[random.nextInt(WORDS.length)];
            Value words = !source && random.nextInt(4) == 0 ? Value.NULL : new Value.Text(word);
            rows.put(canonicalKey(key), List.of(key, new Value.Double(random.nextInt(80) / 8.0), words));
        }
        return rows;
    }

    @RepeatedTest(150)
    void rowsAreHeldAsTheRulesSayAndEachNeedOfARuleIsCounted() {
        long seed = System.nanoTime();
        Random random = new Random(seed);
        Map<String, List<Value>> source = rows(random, true);
        Map<String, List<Value>> target = rows(random, false);
        TableMatch match = match(
                List.of("k"),
                rule("k", new Rule.IgnoreCase(), new Rule.Spaces(true, false)),
                rule("n", WITHIN),
                rule("w", SAME, new Rule.IgnoreCase()));
        Counts counts = new TableComparison(
                        match,
                        new Pair(
                                new ListPlace(TABLE, new ArrayList<>(source.values()), 1 + random.nextInt(5)),
                                new ListPlace(TABLE, new ArrayList<>(target.values()), 1 + random.nextInt(5))),
                        ComparisonContext.quiet(Path.of(System.getProperty("java.io.tmpdir"))))
                .run(new Kept())
                .counts();

        long changed = 0;
        long[] byRule = new long[3];
        for (Map.Entry<String, List<Value>> row : source.entrySet()) {
            List<Value> one = row.getValue();
            List<Value> other = target.get(row.getKey());
            if (other != null) {
                boolean same = near(one.get(1), other.get(1)) && sameWord(one.get(2), other.get(2));
                changed += same ? 0 : 1;
                byRule[0] += one.get(0).equals(other.get(0)) ? 0 : 1;
                byRule[1] += near(one.get(1), other.get(1)) && !one.get(1).equals(other.get(1)) ? 1 : 0;
                byRule[2] += sameWord(one.get(2), other.get(2)) && !one.get(2).equals(other.get(2)) ? 1 : 0;
            }
        }
        long both = source.keySet().stream().filter(target::containsKey).count();
        assertThat(counts.of(FindingKind.CHANGED)).as("seed %d", seed).isEqualTo(changed);
        assertThat(counts.of(FindingKind.MISSING)).as("seed %d", seed).isEqualTo(source.size() - both);
        assertThat(counts.of(FindingKind.EXTRA)).as("seed %d", seed).isEqualTo(target.size() - both);
        for (int i = 0; i < 3; i++) {
            assertThat(counts.perPair().get(i).sameByRule().values().stream()
                            .mapToLong(n -> n)
                            .sum())
                    .as("column %d, seed %d", i, seed)
                    .isEqualTo(byRule[i]);
        }
    }

    /** Without a key, rows are the same by the rules too, and each row that needed one is counted. */
    @Test
    void wholeRowsAreHeldByRules() {
        TableMatch match = match(List.of(), rule("k", new Rule.IgnoreCase()), rule("n", new Rule.Decimals(0)));
        List<List<Value>> source = new ArrayList<>();
        List<List<Value>> target = new ArrayList<>();
        for (String[] row : new String[][] {{"a", "1.2"}, {"A", "1.2"}, {"b", "2"}, {"b", "2"}, {"c", "3"}}) {
            source.add(List.of(new Value.Text(row[0]), new Value.Double(Double.parseDouble(row[1])), Value.NULL));
        }
        for (String[] row : new String[][] {{"A", "0.9"}, {"A", "1.2"}, {"B", "2"}, {"b", "2.0"}, {"c", "4"}}) {
            target.add(List.of(new Value.Text(row[0]), new Value.Double(Double.parseDouble(row[1])), Value.NULL));
        }
        Counts counts = new TableComparison(
                        match,
                        new Pair(new ListPlace(TABLE, source, 2), new ListPlace(TABLE, target, 3)),
                        ComparisonContext.quiet(Path.of(System.getProperty("java.io.tmpdir"))))
                .run(new Kept())
                .counts();
        assertThat(counts.same()).isEqualTo(4);
        assertThat(counts.of(FindingKind.MISSING)).isEqualTo(1);
        assertThat(counts.of(FindingKind.EXTRA)).isEqualTo(1);
        assertThat(counts.perPair().get(0).sameByRule()).containsExactly(Map.entry("case", 2L));
        assertThat(counts.perPair().get(1).sameByRule()).containsExactly(Map.entry("decimals", 1L));
    }

    @Test
    void rulesThatCanNotBeFollowedAreRefusedTogether() {
        assertThatThrownBy(() -> match(
                        List.of("n"),
                        rule("n", WITHIN),
                        rule("w", new Rule.Decimals(2)),
                        rule("z", new Rule.IgnoreCase())))
                .hasMessage("3 problems\n  rule decimals does not fit column rows.w, whose values are compared as text;"
                        + " see docs/rules.md\n  rule within can't be followed in rows.n, which is in the key;"
                        + " round it with decimals or precision\n  a rule names no compared column: rows.z");
    }
}
