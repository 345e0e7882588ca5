package sharptally.core.compare;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.RepeatedTest;
import org.junit.jupiter.api.Test;
import sharptally.core.compare.stream.TableComparison;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.finding.Finding;
import sharptally.core.finding.FindingKind;
import sharptally.core.match.MatchPlanner;
import sharptally.core.match.TableMatch;
import sharptally.core.match.request.MatchRequest;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Generation;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;

/** Random rows with repeated keys, in any order, against a row-by-row oracle that knows neither order nor batches. */
class TableComparisonTest {
    private static final TableShape TABLE = new TableShape(
            TableName.of("rows"),
            false,
            List.of(column("k", Kind.INTEGER), column("l", Kind.TEXT), column("v", Kind.ANY)),
            List.of(),
            List.of(),
            false);

    private static ColumnShape column(String name, Kind kind) {
        return new ColumnShape(
                name, kind.name(), Optional.of(CanonicalType.of(kind)), true, Generation.NONE, Optional.empty());
    }

    private final long seed = System.nanoTime();
    private final Random random = new Random(seed);

    private List<List<Value>> rows(int count, int keys) {
        return IntStream.range(0, count)
                .mapToObj(i -> List.<Value>of(
                        random.nextInt(9) == 0 ? Value.NULL : new Value.Int(random.nextInt(keys)),
                        new Value.Text(random.nextBoolean() ? "🌊" : "\uFFFC"),
                        new Value.Int(random.nextInt(3))))
                .collect(Collectors.toCollection(ArrayList::new));
    }

    private static TableMatch match(String... key) {
        return MatchPlanner.plan(TABLE, TABLE, MatchRequest.ofTables("rows", "rows", List.of(key), List.of()));
    }

    private Outcome compare(TableMatch match, List<List<Value>> source, List<List<Value>> target, Kept kept) {
        return new TableComparison(
                        match,
                        new Pair(
                                new ListPlace(TABLE, source, 1 + random.nextInt(5)),
                                new ListPlace(TABLE, target, 1 + random.nextInt(5))),
                        ComparisonContext.quiet(Path.of(System.getProperty("java.io.tmpdir"))))
                .run(kept);
    }

    @RepeatedTest(200)
    void findingsAreThoseOfARowByRowOracle() {
        int keys = 1 + random.nextInt(40);
        List<List<Value>> source = rows(random.nextInt(60), keys);
        List<List<Value>> target = new ArrayList<>(source);
        target.removeIf(row -> random.nextInt(5) == 0);
        target.addAll(rows(random.nextInt(8), keys));
        if (random.nextBoolean()) {
            // Sorted as a database might: by UTF-16, which is not our order.
            Comparator<List<Value>> order = Comparator.comparing(
                            (List<Value> r) -> r.get(0) instanceof Value.Int i ? i.value() : -1L)
                    .thenComparing(r -> r.get(1).toString());
            source.sort(order);
            target.sort(order);
        }
        TableMatch match = random.nextInt(4) == 0 ? match() : match("k", "l");
        Kept kept = new Kept();
        Outcome outcome = compare(match, source, target, kept);

        assertThat(told(kept.findings)).as("seed %d", seed).isEqualTo(oracle(match, source, target));
        Counts counts = outcome.counts();
        assertThat(counts.sourceRows()).isEqualTo(source.size());
        assertThat(counts.targetRows()).isEqualTo(target.size());
        assertThat(counts.same() + counts.of(FindingKind.CHANGED) + counts.of(FindingKind.MISSING))
                .isEqualTo(source.size());
        assertThat(counts.same() + counts.of(FindingKind.CHANGED) + counts.of(FindingKind.EXTRA))
                .isEqualTo(target.size());

        Kept mirrored = new Kept();
        Counts back = compare(match, target, source, mirrored).counts();
        assertThat(back.of(FindingKind.MISSING)).isEqualTo(counts.of(FindingKind.EXTRA));
        assertThat(back.of(FindingKind.EXTRA)).isEqualTo(counts.of(FindingKind.MISSING));
        assertThat(back.perPair().stream().map(PairCounts::differing))
                .isEqualTo(counts.perPair().stream().map(PairCounts::differing).toList());
    }

    private static Map<String, Long> told(List<Finding> findings) {
        Map<String, Long> told = new LinkedHashMap<>();
        for (Finding finding : findings) {
            if (finding instanceof Finding.Missing f) {
                told.merge("missing " + f.row(), f.times(), Long::sum);
            } else if (finding instanceof Finding.Extra f) {
                told.merge("extra " + f.row(), f.times(), Long::sum);
            } else if (finding instanceof Finding.Changed f) {
                told.merge("changed " + f.key() + f.differences(), 1L, Long::sum);
            } else if (finding instanceof Finding.Repeated f) {
                told.merge("repeated " + f.key() + " " + f.inSource() + " " + f.inTarget(), 1L, Long::sum);
            }
        }
        return new java.util.TreeMap<>(told);
    }

    private static Map<String, Long> oracle(TableMatch match, List<List<Value>> source, List<List<Value>> target) {
        Map<String, Long> told = new java.util.TreeMap<>();
        var bySource = source.stream().collect(Collectors.groupingBy(r -> key(match, r)));
        var byTarget = target.stream().collect(Collectors.groupingBy(r -> key(match, r)));
        var keys = new java.util.HashSet<>(bySource.keySet());
        keys.addAll(byTarget.keySet());
        for (List<Value> key : keys) {
            List<List<Value>> left = new ArrayList<>(bySource.getOrDefault(key, List.of()));
            List<List<Value>> right = new ArrayList<>(byTarget.getOrDefault(key, List.of()));
            boolean repeated = !match.wholeRow() && (left.size() > 1 || right.size() > 1);
            if (repeated) {
                told.put("repeated " + key + " " + left.size() + " " + right.size(), 1L);
            }
            left.removeIf(right::remove);
            if (!repeated && left.size() == 1 && right.size() == 1) {
                var difference = new sharptally.core.finding.Difference(
                        2, left.get(0).get(2), right.get(0).get(2));
                told.put("changed " + key + List.of(difference), 1L);
            } else {
                left.forEach(r -> told.merge("missing " + r, 1L, Long::sum));
                right.forEach(r -> told.merge("extra " + r, 1L, Long::sum));
            }
        }
        return told;
    }

    private static List<Value> key(TableMatch match, List<Value> row) {
        return match.wholeRow() ? row : row.subList(0, 2);
    }

    @Test
    void stoppedComparisonProvesNothing() {
        var comparison = new TableComparison(
                match("k"),
                new Pair(
                        new ListPlace(TABLE, rows(50_000, Integer.MAX_VALUE), 1_000),
                        new ListPlace(TABLE, List.of(), 10)),
                ComparisonContext.quiet(Path.of(System.getProperty("java.io.tmpdir")))
                        .stoppedBy(() -> true));
        assertThatThrownBy(() -> comparison.run(new Kept()))
                .isInstanceOfSatisfying(
                        ToolException.class, e -> assertThat(e.kind()).isEqualTo(ErrorKind.INCOMPLETE));
    }

    @Test
    void keyThatIsNoneIsRefusedInsteadOfHeldInMemory() {
        List<List<Value>> rows = new ArrayList<>();
        for (int i = 0; i < 100_001; i++) {
            rows.add(List.of(new Value.Int(1), new Value.Text("x"), new Value.Int(i)));
        }
        assertThatThrownBy(() -> compare(match("k"), rows, rows, new Kept()))
                .hasMessageContaining("more than 100000 rows")
                .hasMessageContaining("name a key that tells rows apart");
    }
}
