package sharptally.core.compare;

import static org.assertj.core.api.Assertions.assertThat;

import java.lang.reflect.Proxy;
import java.math.BigDecimal;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collections;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.stream.IntStream;
import org.junit.jupiter.api.RepeatedTest;
import org.junit.jupiter.api.io.TempDir;
import sharptally.core.compare.record.RecordComparison;
import sharptally.core.compare.stream.TableComparison;
import sharptally.core.finding.Finding;
import sharptally.core.match.MatchPlanner;
import sharptally.core.match.TableMatch;
import sharptally.core.match.request.MatchRequest;
import sharptally.core.place.Place;
import sharptally.core.place.ReadRequest;
import sharptally.core.place.Side;
import sharptally.core.range.KeyRange;
import sharptally.core.rows.KeyOrder;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Generation;
import sharptally.core.shape.KeyShape;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;

/** Rows in no order, passed over by the hashes of their values, differ where a merge of all of them says that they do. */
class UnsortedComparisonTest {
    @TempDir
    Path folder;

    private final long seed = System.nanoTime();
    private final Random random = new Random(seed);

    private static TableShape table(boolean keyed, boolean composite, Kind amount) {
        List<String> key = composite ? List.of("station", "taken") : List.of("taken");
        List<Kind> kinds = List.of(Kind.TEXT, Kind.INTEGER, amount, Kind.TEXT);
        List<String> names = List.of("station", "taken", "amount", "remark");
        List<ColumnShape> columns = IntStream.range(0, kinds.size())
                .mapToObj(i -> new ColumnShape(
                        names.get(i),
                        kinds.get(i).name(),
                        Optional.of(CanonicalType.of(kinds.get(i))),
                        !keyed || !key.contains(names.get(i)),
                        Generation.NONE,
                        Optional.empty()))
                .toList();
        return new TableShape(
                TableName.of("rows"),
                false,
                columns,
                keyed ? List.of(new KeyShape(true, key)) : List.of(),
                List.of(),
                false);
    }

    private List<Value> row(long key, Kind amount, boolean nulls) {
        Value taken = nulls && random.nextInt(60) == 0 ? Value.NULL : new Value.Int(key * 0x9E37_79B9L);
        BigDecimal number = BigDecimal.valueOf(random.nextInt(2_000) - 1_000, random.nextInt(3));
        Value value = amount == Kind.DECIMAL ? new Value.Decimal(number) : new Value.Double(number.doubleValue());
        return List.of(
                new Value.Text("gauge " + key % 7),
                taken,
                random.nextInt(5) == 0 ? Value.NULL : value,
                new Value.Text(List.of("", "a", "é", "a ", "🌊").get(random.nextInt(5))));
    }

    /** The same value in another form, or not the same. */
    private List<Value> copied(List<Value> row, Kind amount) {
        List<Value> copy = new ArrayList<>(row);
        if (row.get(2) instanceof Value.Decimal decimal && amount == Kind.DECIMAL) {
            copy.set(2, new Value.Decimal(decimal.value().setScale(3 + random.nextInt(3))));
        }
        if (random.nextInt(50) == 0) {
            copy.set(2 + random.nextInt(2), Value.NULL);
        }
        return copy;
    }

    /** Keeps to itself some of the rows that it is asked for by ranges. */
    private Place forgetful(Place place, TableShape table) {
        return (Place) Proxy.newProxyInstance(
                Place.class.getClassLoader(), new Class<?>[] {Place.class}, (proxy, method, arguments) -> {
                    if (method.getName().equals("read")
                            && !((ReadRequest) arguments[0]).ranges().isEmpty()) {
                        ReadRequest request = (ReadRequest) arguments[0];
                        List<KeyRange> some =
                                request.ranges().subList(0, request.ranges().size() / 2);
                        return some.isEmpty()
                                ? ListPlace.of(List.of(), table.columns().size(), 1)
                                : place.read(request.within(some));
                    }
                    return method.invoke(place, arguments);
                });
    }

    @RepeatedTest(150)
    void whatIsFoundIsWhatAMergeFinds() throws Exception {
        boolean keyed = random.nextInt(3) > 0;
        boolean composite = random.nextBoolean();
        Kind ofSource = random.nextBoolean() ? Kind.DECIMAL : Kind.DOUBLE;
        Kind ofTarget = random.nextInt(3) > 0 ? ofSource : Kind.DECIMAL;
        TableShape source = table(false, composite, ofSource);
        TableShape target = table(keyed, composite, ofTarget);
        boolean wholeRow = !keyed && random.nextBoolean();
        TableMatch match = MatchPlanner.plan(
                source,
                target,
                MatchRequest.ofTables(
                        "rows",
                        "rows",
                        wholeRow ? List.of() : composite ? List.of("station", "taken") : List.of("taken"),
                        List.of()));
        int count = random.nextInt(2_500);
        // Of few keys, some are repeated.
        int keys = keyed || random.nextBoolean() ? Integer.MAX_VALUE : 1 + count;
        List<List<Value>> rows = new ArrayList<>();
        List<List<Value>> others = new ArrayList<>();
        for (int i = 0; i < count; i++) {
            List<Value> row = row(keyed ? i : random.nextInt(keys), ofSource, !keyed);
            if (random.nextInt(100) > 0) {
                rows.add(row);
            }
            if (random.nextInt(100) > 0) {
                Value amount = row.get(2) instanceof Value.Double number && ofTarget == Kind.DECIMAL
                        ? new Value.Decimal(BigDecimal.valueOf(number.value()))
                        : row.get(2);
                others.add(copied(List.of(row.get(0), row.get(1), amount, row.get(3)), ofTarget));
            }
        }
        Collections.shuffle(rows, random);
        Collections.shuffle(others, random);
        String story = "seed " + seed + " " + match + " " + rows.size();
        Place from = new ListPlace(source, rows, 1 + random.nextInt(300));
        Place seeking =
                SeekingPlace.of(target, others, random.nextInt(4) == 0 ? SeekingPlace.BY_UNITS : KeyOrder.ASCENDING);
        Place to = !keyed ? new ListPlace(target, others, 1 + random.nextInt(300)) : seeking;
        Place asked = keyed && random.nextInt(4) == 0 ? forgetful(to, target) : to;
        Set<Side> inNoOrder = keyed ? EnumSet.of(Side.SOURCE) : EnumSet.allOf(Side.class);
        Kept expected = new Kept();
        Kept found = new Kept();
        Outcome plain = new TableComparison(match, new Pair(from, to), ComparisonContext.quiet(folder)).run(expected);
        RangeResult byRecords = RecordComparison.ofValues(
                        match, new Pair(from, asked), inNoOrder, ComparisonContext.quiet(folder))
                .run(found)
                .orElseThrow();
        assertThat(found.findings).as(story).isEqualTo(expected.findings);
        assertThat(byRecords.counts()).as(story).isEqualTo(plain.counts());
        assertThat(
                        wholeRow
                                ? 0
                                : byRecords.damage().stream()
                                        .mapToLong(d -> d.differing())
                                        .sum())
                .as(story)
                .isEqualTo(
                        wholeRow
                                ? 0
                                : found.findings.stream()
                                        .map(Finding::key)
                                        .distinct()
                                        .count());
        System.out.println("seed " + seed);
        try (var left = Files.list(folder)) {
            assertThat(left).isEmpty();
        }
    }
}
