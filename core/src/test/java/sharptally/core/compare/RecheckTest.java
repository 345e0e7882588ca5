package sharptally.core.compare;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.junit.jupiter.api.RepeatedTest;
import sharptally.core.compare.run.Recheck;
import sharptally.core.compare.stream.TableComparison;
import sharptally.core.finding.Finding;
import sharptally.core.finding.FindingSink;
import sharptally.core.match.MatchPlanner;
import sharptally.core.match.TableMatch;
import sharptally.core.match.request.MatchRequest;
import sharptally.core.place.Place;
import sharptally.core.rows.KeyOrder;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Generation;
import sharptally.core.shape.KeyShape;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;

/** After random changes of both sides, looking again finds what a whole comparison finds at the keys that had differed. */
class RecheckTest {
    private static final class Found implements FindingSink {
        private final List<Finding> all = new ArrayList<>();

        @Override
        public void accept(Finding finding) {
            all.add(finding);
        }

        @Override
        public void restart() {
            all.clear();
        }
    }

    private final long seed = System.nanoTime();
    private final Random random = new Random(seed);

    private static TableShape table() {
        List<ColumnShape> columns = new ArrayList<>();
        for (String name : List.of("id", "level", "remark")) {
            Kind kind = name.equals("remark") ? Kind.TEXT : Kind.INTEGER;
            columns.add(new ColumnShape(
                    name,
                    kind.name(),
                    Optional.of(CanonicalType.of(kind)),
                    !name.equals("id"),
                    Generation.NONE,
                    Optional.empty()));
        }
        return new TableShape(
                TableName.of("reading"), false, columns, List.of(new KeyShape(true, List.of("id"))), List.of(), false);
    }

    private List<Value> row(long id) {
        return List.of(
                new Value.Int(id),
                new Value.Int(random.nextInt(3)),
                random.nextInt(4) == 0 ? Value.NULL : new Value.Text("r" + random.nextInt(2)));
    }

    private static Place place(TableShape table, Map<Long, List<Value>> rows) {
        return SeekingPlace.of(table, List.copyOf(rows.values()), KeyOrder.ASCENDING);
    }

    private void edit(Map<Long, List<Value>> rows, int edits) {
        for (int i = 0; i < edits; i++) {
            long id = random.nextInt(1_600);
            if (random.nextInt(4) == 0) {
                rows.remove(id);
            } else {
                rows.put(id, row(id));
            }
        }
    }

    @RepeatedTest(40)
    void findsWhatAWholeComparisonFindsAtTheSameKeys() {
        TableShape table = table();
        TableMatch match =
                MatchPlanner.plan(table, table, MatchRequest.ofTables("reading", "reading", List.of(), List.of()));
        Map<Long, List<Value>> source = new TreeMap<>();
        for (long id = 0; id < 1_500; id++) {
            source.put(id, row(id));
        }
        Map<Long, List<Value>> target = new TreeMap<>(source);
        edit(target, random.nextInt(1_400));
        Found before = new Found();
        Outcome first = whole(match, source, target, before);
        edit(source, random.nextInt(300));
        target.replaceAll((id, row) -> random.nextInt(3) == 0 ? source.getOrDefault(id, row) : row);
        Found expected = new Found();
        whole(match, source, target, expected);
        Map<List<Value>, Finding> old = byKey(before.all);
        Map<List<Value>, Finding> now = byKey(expected.all);
        now.keySet().retainAll(old.keySet());

        Found again = new Found();
        Recheck.Result result = new Recheck(
                        match,
                        new Pair(place(table, source), place(table, target)),
                        ComparisonContext.quiet(Path.of(System.getProperty("java.io.tmpdir"))))
                .run(before.all::forEach, again);

        assertThat(again.all).as("seed " + seed).containsExactlyElementsOf(now.values());
        assertThat(result.whole()).isFalse();
        assertThat(result.noLongerDifferent()).isEqualTo(old.size() - (long) now.size());
        assertThat(result.still())
                .isEqualTo(now.values().stream().filter(before.all::contains).count());
        assertThat(result.noLongerDifferent() + result.still() + result.differentInAnotherWay())
                .isEqualTo(old.size());
        Counts counts = first.counts();
        assertThat(List.of(result.sourceRowsBefore(), result.targetRowsBefore(), result.sameBefore()))
                .containsExactly(counts.sourceRows() - counts.same(), counts.targetRows() - counts.same(), 0L);
    }

    private static Map<List<Value>, Finding> byKey(List<Finding> findings) {
        return findings.stream()
                .collect(Collectors.toMap(Finding::key, f -> f, (a, b) -> a, () -> new TreeMap<>(KeyOrder.ASCENDING)));
    }

    private static Outcome whole(
            TableMatch match, Map<Long, List<Value>> source, Map<Long, List<Value>> target, Found into) {
        TableShape table = match.source();
        return new TableComparison(
                        match,
                        new Pair(place(table, source), place(table, target)),
                        ComparisonContext.quiet(Path.of(System.getProperty("java.io.tmpdir"))))
                .run(into);
    }
}
