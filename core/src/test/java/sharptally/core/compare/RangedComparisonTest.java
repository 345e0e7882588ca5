package sharptally.core.compare;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Function;
import java.util.stream.IntStream;
import org.junit.jupiter.api.RepeatedTest;
import org.junit.jupiter.api.RepetitionInfo;
import sharptally.core.checksum.RowHash;
import sharptally.core.compare.checksum.Known;
import sharptally.core.compare.checksum.Sliced;
import sharptally.core.compare.run.RangedComparison;
import sharptally.core.compare.stream.TableComparison;
import sharptally.core.finding.Finding;
import sharptally.core.match.MatchPlanner;
import sharptally.core.match.TableMatch;
import sharptally.core.match.request.MatchRequest;
import sharptally.core.place.Place;
import sharptally.core.range.DifferenceHistogram;
import sharptally.core.range.KeyRange;
import sharptally.core.range.RangeSum;
import sharptally.core.rows.KeyOrder;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Generation;
import sharptally.core.shape.KeyShape;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;

/** Random tables cut into random ranges: every method, with any number of workers, finds what a plain merge finds. */
class RangedComparisonTest {
    /** Keeps parts in memory. */
    private static final class MemoryParts implements PartKeeper {
        final Map<Integer, List<Finding>> findings = new ConcurrentHashMap<>();
        final Map<Integer, RangeResult> parts = new ConcurrentHashMap<>();
        private Optional<List<KeyRange>> ranges = Optional.empty();

        @Override
        public Optional<List<KeyRange>> ranges() {
            return ranges;
        }

        @Override
        public void cut(List<KeyRange> into) {
            ranges = Optional.of(into);
        }

        @Override
        public Optional<RangeResult> finished(int range) {
            return Optional.ofNullable(parts.get(range));
        }

        @Override
        public Sink open(int range) {
            List<Finding> found = new ArrayList<>();
            findings.put(range, found);
            return new Sink() {
                @Override
                public void accept(Finding finding) {
                    found.add(finding);
                }

                @Override
                public void restart() {
                    found.clear();
                }

                @Override
                public void close() {
                    // in memory, nothing is to be done
                }
            };
        }

        @Override
        public void finish(int range, RangeResult part) {
            parts.put(range, part);
        }

        @Override
        public void restart() {
            findings.clear();
            parts.clear();
            ranges = Optional.empty();
        }

        /** In the order of the ranges, as they are kept with a run. */
        List<Sliced> sliced() {
            return new TreeMap<>(parts)
                    .values().stream().flatMap(part -> part.sliced().stream()).toList();
        }

        List<Finding> all() {
            return new TreeMap<>(findings)
                    .values().stream().flatMap(List::stream).toList();
        }
    }

    private final long seed = System.nanoTime();
    private final Random random = new Random(seed);

    private static ColumnShape column(String name, Kind kind, boolean nullable) {
        return new ColumnShape(
                name, kind.name(), Optional.of(CanonicalType.of(kind)), nullable, Generation.NONE, Optional.empty());
    }

    private static TableShape table(List<String> key, Kind... kinds) {
        List<ColumnShape> columns = IntStream.range(0, kinds.length)
                .mapToObj(i -> column("c" + i, kinds[i], !key.contains("c" + i)))
                .toList();
        return new TableShape(TableName.of("rows"), false, columns, List.of(new KeyShape(true, key)), List.of(), false);
    }

    /** The same columns, each of which may be NULL. */
    private static TableShape withoutKey(TableShape table) {
        List<ColumnShape> columns = table.columns().stream()
                .map(c -> column(c.name(), c.type().orElseThrow().kind(), true))
                .toList();
        return new TableShape(table.name(), false, columns, List.of(), List.of(), false);
    }

    private Value number() {
        return new Value.Int(
                switch (random.nextInt(4)) {
                    case 0 -> random.nextInt(40) - 20;
                    case 1 -> random.nextInt(4_000) - 2_000;
                    case 2 -> random.nextLong();
                    default ->
                        random.nextBoolean()
                                ? Long.MAX_VALUE - random.nextInt(50)
                                : Long.MIN_VALUE + random.nextInt(50);
                });
    }

    private Value text() {
        return new Value.Text(
                List.of("", "a", "B", "\uFFFC", "🌊", "é", "z").get(random.nextInt(7)) + random.nextInt(30));
    }

    /** Rows of the source by key, and what became of them. */
    private List<List<List<Value>>> sides(boolean composite) {
        Map<List<Value>, Value> rows = new TreeMap<>(KeyOrder.ASCENDING);
        int count = random.nextInt(1_500);
        for (int i = 0; i < count; i++) {
            rows.put(
                    composite ? List.of(text(), number()) : List.of(number()),
                    random.nextInt(5) == 0 ? Value.NULL : text());
        }
        int oneIn = 2 + random.nextInt(400);
        List<List<Value>> source = new ArrayList<>();
        List<List<Value>> target = new ArrayList<>();
        rows.forEach((key, value) -> {
            int fate = random.nextInt(oneIn);
            Value changed = random.nextInt(oneIn) == 0 ? new Value.Text("other") : value;
            List<Value> row = new ArrayList<>(key);
            row.add(value);
            List<Value> other = new ArrayList<>(key);
            other.add(changed);
            if (fate != 0) {
                source.add(row);
            }
            if (fate != 1) {
                target.add(other);
            }
        });
        Collections.shuffle(target, random);
        return List.of(source, target);
    }

    /** Rows of which one in so many (but for the first row) differs between the sides, in the last column. */
    private static List<List<Value>> numbered(int rows, int side, int oneIn) {
        return IntStream.range(0, rows)
                .mapToObj(i -> List.<Value>of(new Value.Int(i), new Value.Text(i % oneIn == 0 ? "a" + side * i : "b")))
                .toList();
    }

    private Outcome byChecksums(
            List<List<Value>> one,
            List<List<Value>> other,
            Function<List<Value>, RangeSum> hashing,
            int workers,
            MemoryParts parts) {
        TableShape table = table(List.of("c0"), Kind.INTEGER, Kind.TEXT);
        TableMatch match =
                MatchPlanner.plan(table, table, MatchRequest.ofTables("rows", "rows", List.of("c0"), List.of()));
        ComparisonSettings manner = new ComparisonSettings(
                Method.CHECKSUM,
                KeyRange.ALL,
                400 + random.nextInt(3_000),
                workers,
                Optional.empty(),
                Optional.empty());
        Place source = SeekingPlace.of(table, one, KeyOrder.ASCENDING, hashing);
        Place target = SeekingPlace.of(table, other, KeyOrder.ASCENDING, hashing);
        return new RangedComparison(
                        match,
                        Collections.nCopies(workers, new Pair(source, target)),
                        manner,
                        parts,
                        ComparisonContext.quiet(Path.of(System.getProperty("java.io.tmpdir"))))
                .run(-1);
    }

    @RepeatedTest(8)
    void whatHashesThatTellTooLittleFoundIsThrownAway() {
        System.out.println("seed " + seed);
        MemoryParts parts = new MemoryParts();
        // Some twenty rows are looked at, and nearly each of them differs: they are found with odds of one in 10^20
        // against.
        int rows = 20_000;
        Outcome outcome = byChecksums(
                numbered(rows, 1, 1),
                numbered(rows, 2, 1),
                row -> new RangeSum(1, row.get(0).hashCode()),
                1 + random.nextInt(3),
                parts);
        assertThat(outcome.mistrusted()).as("seed " + seed).isTrue();
        assertThat(outcome.remarks()).anyMatch(r -> r.startsWith("checksums said the same of rows that differ"));
        assertThat(parts.all()).as("seed " + seed).hasSize(rows - 1);
        assertThat(outcome.counts().same()).isEqualTo(1);
        MemoryParts honest = new MemoryParts();
        assertThat(byChecksums(
                                numbered(rows, 1, 3),
                                numbered(rows, 1, 3),
                                row -> new RangeSum(1, new RowHash().of(row)),
                                2,
                                honest)
                        .mistrusted())
                .isFalse();
        assertThat(honest.all()).isEmpty();
    }

    @RepeatedTest(8)
    void rowsOfWhichThereIsNoHashAreRead() {
        System.out.println("seed " + seed);
        // The hash of long texts is NULL on both sides: as many rows, the same sum.
        Function<List<Value>, RangeSum> hashing = row ->
                row.get(1).toString().length() > 2 ? new RangeSum(1, 0, 1) : new RangeSum(1, new RowHash().of(row));
        MemoryParts parts = new MemoryParts();
        Outcome outcome = byChecksums(numbered(3_000, 1, 3), numbered(3_000, 2, 3), hashing, 1, parts);
        assertThat(parts.all()).as("seed " + seed).hasSize(999);
        assertThat(outcome.mistrusted()).isFalse();
    }

    @RepeatedTest(120)
    void everyMethodFindsWhatAPlainMergeFinds() {
        System.out.println("seed " + seed);
        boolean composite = random.nextBoolean();
        TableShape table = composite
                ? table(List.of("c0", "c1"), Kind.TEXT, Kind.INTEGER, Kind.TEXT)
                : table(List.of("c0"), Kind.INTEGER, Kind.TEXT);
        boolean nulls = random.nextInt(3) == 0;
        TableShape other = nulls ? withoutKey(table) : table;
        TableMatch match = MatchPlanner.plan(
                table,
                other,
                MatchRequest.ofTables("rows", "rows", table.keys().get(0).columns(), List.of()));
        List<List<List<Value>>> sides = sides(composite);
        for (int i = 0; nulls && i < 3; i++) {
            List<Value> row =
                    new ArrayList<>(Collections.nCopies(table.columns().size(), Value.NULL));
            row.set(row.size() - 1, text());
            sides.get(1).add(row);
        }
        boolean otherOrder = random.nextInt(3) == 0;
        Place source = SeekingPlace.of(table, sides.get(0), KeyOrder.ASCENDING);
        Place target = SeekingPlace.of(other, sides.get(1), otherOrder ? SeekingPlace.BY_UNITS : KeyOrder.ASCENDING);
        Kept expected = new Kept();
        Outcome plain = new TableComparison(
                        match,
                        new Pair(source, target),
                        ComparisonContext.quiet(Path.of(System.getProperty("java.io.tmpdir"))))
                .run(expected);
        for (Method method : List.of(Method.STREAM, Method.CHECKSUM)) {
            int workers = 1 + random.nextInt(3);
            MemoryParts parts = new MemoryParts();
            ComparisonSettings manner = new ComparisonSettings(
                    method, KeyRange.ALL, 1 + random.nextInt(600), workers, Optional.empty(), Optional.empty());
            Outcome outcome = new RangedComparison(
                            match,
                            Collections.nCopies(workers, new Pair(source, target)),
                            manner,
                            parts,
                            ComparisonContext.quiet(Path.of(System.getProperty("java.io.tmpdir"))))
                    .run(-1);
            String story = "seed " + seed + " " + method + " " + manner;
            assertThat(parts.all()).as(story).isEqualTo(expected.findings);
            assertThat(outcome.counts()).as(story).isEqualTo(plain.counts());
            // A repeated key is one key of the strip, however many of its rows are findings of their own.
            assertThat(outcome.damage().stream()
                            .mapToLong(DifferenceHistogram.Cell::differing)
                            .sum())
                    .as(story)
                    .isEqualTo(expected.findings.stream()
                            .map(Finding::key)
                            .distinct()
                            .count());
        }
    }

    private static int reliedOn;

    /** Some rows of a side are lost, changed or added, and now and then none is. */
    private List<List<Value>> later(List<List<Value>> rows, boolean composite) {
        Map<List<Value>, List<Value>> byKey = new TreeMap<>(KeyOrder.ASCENDING);
        rows.forEach(row -> byKey.put(row.subList(0, composite ? 2 : 1), row));
        int times = random.nextInt(3) == 0 ? 0 : random.nextInt(8);
        for (int i = 0; i < times; i++) {
            List<Value> key = byKey.isEmpty() || random.nextInt(4) == 0
                    ? composite ? List.of(text(), number()) : List.of(number())
                    : List.copyOf(byKey.keySet()).get(random.nextInt(byKey.size()));
            if (random.nextInt(3) == 0) {
                byKey.remove(key);
            } else {
                List<Value> row = new ArrayList<>(key);
                row.add(text());
                byKey.put(key, row);
            }
        }
        List<List<Value>> all = new ArrayList<>(byKey.values());
        Collections.shuffle(all, random);
        return all;
    }

    /** Night after night, each relying on the one before: what is found is what a plain merge finds. */
    @RepeatedTest(150)
    void whatIsTakenOverIsWhatAPlainMergeFinds(RepetitionInfo repetition) {
        System.out.println("seed " + seed);
        boolean composite = random.nextBoolean();
        TableShape table = composite
                ? table(List.of("c0", "c1"), Kind.TEXT, Kind.INTEGER, Kind.TEXT)
                : table(List.of("c0"), Kind.INTEGER, Kind.TEXT);
        TableMatch match = MatchPlanner.plan(
                table,
                table,
                MatchRequest.ofTables("rows", "rows", table.keys().get(0).columns(), List.of()));
        List<List<List<Value>>> sides = sides(composite);
        Optional<Known> known = Optional.empty();
        for (int night = 0; night < 4; night++) {
            Pair places = new Pair(
                    SeekingPlace.of(table, sides.get(0), KeyOrder.ASCENDING),
                    SeekingPlace.of(table, sides.get(1), KeyOrder.ASCENDING));
            ComparisonContext quiet = ComparisonContext.quiet(Path.of(System.getProperty("java.io.tmpdir")));
            Kept expected = new Kept();
            Outcome plain = new TableComparison(match, places, quiet).run(expected);
            MemoryParts parts = new MemoryParts();
            int workers = 1 + random.nextInt(3);
            ComparisonSettings manner = new ComparisonSettings(
                    Method.CHECKSUM,
                    KeyRange.ALL,
                    1 + random.nextInt(600),
                    workers,
                    Optional.empty(),
                    Optional.empty());
            // What the program expects of a table's size changes from night to night, and slices with it.
            long rows = random.nextBoolean() ? -1 : 1 + random.nextInt(3_000);
            Outcome outcome = new RangedComparison(
                            match, Collections.nCopies(workers, places), manner.knowing(known), parts, quiet)
                    .run(rows);
            String story = "seed " + seed + " night " + night + " " + manner + " " + outcome.remarks();
            assertThat(parts.all()).as(story).isEqualTo(expected.findings);
            assertThat(outcome.counts()).as(story).isEqualTo(plain.counts());
            reliedOn += outcome.remarks().stream().anyMatch(r -> r.startsWith("relied on run")) ? 1 : 0;
            known = Optional.of(new Known("night " + night, parts.sliced(), parts.all()));
            sides = List.of(later(sides.get(0), composite), later(sides.get(1), composite));
        }
        if (repetition.getCurrentRepetition() == repetition.getTotalRepetitions()) {
            assertThat(reliedOn).isGreaterThan(150);
        }
    }
}
