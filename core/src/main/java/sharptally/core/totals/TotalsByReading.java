package sharptally.core.totals;

import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.ReadRequest;
import sharptally.core.place.part.Aggregates;
import sharptally.core.place.part.Measure;
import sharptally.core.place.part.TimeUnit;
import sharptally.core.place.part.TotalsRequest;
import sharptally.core.rows.CellOrder;
import sharptally.core.rows.Column;
import sharptally.core.rows.KeyOrder;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowCodec;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Generation;
import sharptally.core.shape.TableShape;
import sharptally.core.sort.ExternalSort;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.core.types.Numbers;
import sharptally.core.types.TimeText;
import sharptally.core.types.Value;

/**
 * Figures of a place that only hands rows out, worked out from all of them. Different values are counted in a sort of their
 * own, with a reading each, so that memory is one chunk of a sort and the figures of each group.
 *
 * @param reading reads rows, in any order
 * @param temporary folder in which values are sorted
 */
public record TotalsByReading(Function<ReadRequest, RowSource> reading, Path temporary) implements Aggregates {
    private static final long CHUNK_BYTES = 32L << 20;
    private static final int ROWS_PER_BATCH = 1_024;

    @Override
    public long countRows(TableShape table) {
        long count = 0;
        try (RowSource rows = reading.apply(new ReadRequest(table, List.of(), List.of()))) {
            for (var batch = rows.next(); batch.isPresent(); batch = rows.next()) {
                count += batch.get().rows();
            }
        }
        return count;
    }

    @Override
    public Totals totals(TotalsRequest request) {
        Map<List<Value>, Figure[]> groups = new TreeMap<>(KeyOrder.ASCENDING);
        if (request.by().isEmpty()) {
            groups.put(List.of(), figures(request));
        }
        fold(request, groups);
        for (int i = 0; i < request.terms().size(); i++) {
            if (request.terms().get(i).measure() == Measure.DISTINCT) {
                countDistinct(request, i, groups);
            }
        }
        List<ColumnShape> columns = Stream.concat(
                        request.by().stream().map(g -> g.unit().isPresent() ? figure(Kind.TEXT) : g.column()),
                        request.terms().stream().map(TotalsByReading::shape))
                .toList();
        return new Totals(columns, new Handed(columns.size(), groups.entrySet().iterator()));
    }

    private static Figure[] figures(TotalsRequest request) {
        return request.terms().stream()
                .map(term -> new Figure(term, request.table()))
                .toArray(Figure[]::new);
    }

    private void fold(TotalsRequest request, Map<List<Value>, Figure[]> groups) {
        List<ColumnShape> columns = columns(
                request.by(),
                request.terms().stream()
                        .filter(t -> t.measure() != Measure.DISTINCT)
                        .flatMap(t -> t.column().stream()));
        int[] places = request.terms().stream()
                .mapToInt(t -> t.column().map(columns::indexOf).orElse(-1))
                .toArray();
        try (RowSource rows = reading.apply(new ReadRequest(request.table(), columns, List.of()))) {
            for (var batch = rows.next(); batch.isPresent(); batch = rows.next()) {
                for (int row = 0; row < batch.get().rows(); row++) {
                    Figure[] of = groups.computeIfAbsent(
                            group(request.by(), batch.get(), columns, row), g -> figures(request));
                    for (int i = 0; i < of.length; i++) {
                        if (places[i] >= 0) {
                            of[i].add(batch.get().column(places[i]), row);
                        } else if (request.terms().get(i).measure() == Measure.ROWS) {
                            of[i].count();
                        }
                    }
                }
            }
        }
    }

    private static List<ColumnShape> columns(List<TotalsRequest.Group> by, Stream<ColumnShape> further) {
        Set<ColumnShape> columns = new LinkedHashSet<>();
        by.forEach(g -> columns.add(g.column()));
        further.forEach(columns::add);
        return List.copyOf(columns);
    }

    private static List<Value> group(List<TotalsRequest.Group> by, RowBatch batch, List<ColumnShape> columns, int row) {
        return by.stream()
                .map(g -> {
                    Value value = batch.column(columns.indexOf(g.column())).value(row);
                    return g.unit().map(unit -> span(value, unit)).orElse(value);
                })
                .toList();
    }

    private static Value span(Value value, TimeUnit unit) {
        Optional<LocalDateTime> time = value instanceof Value.Timestamp t
                ? Optional.of(t.value())
                : value instanceof Value.Instant m
                        ? Optional.of(LocalDateTime.ofInstant(m.value(), ZoneOffset.UTC))
                        : value instanceof Value.Date d ? Optional.of(d.value().atStartOfDay()) : Optional.empty();
        return time.<Value>map(t -> new Value.Text(TimeText.timestamp(t).substring(0, unit.letters())))
                .orElse(value);
    }

    /** Counts the different values of one figure, in each group, as they come in their order. */
    private void countDistinct(TotalsRequest request, int term, Map<List<Value>, Figure[]> groups) {
        ColumnShape column = request.terms().get(term).column().orElseThrow();
        List<ColumnShape> columns = columns(request.by(), Stream.of(column));
        int at = columns.indexOf(column);
        ReadRequest all = new ReadRequest(request.table(), columns, List.of());
        try (RowSource rows =
                new ExternalSort(reading.apply(all), batch -> List.of(batch.column(at)), CHUNK_BYTES, temporary)) {
            Column last = new Column(1);
            Set<List<Value>> counted = new LinkedHashSet<>();
            for (var batch = rows.next(); batch.isPresent(); batch = rows.next()) {
                Column cells = batch.get().column(at);
                for (int row = 0; row < batch.get().rows(); row++) {
                    if (cells.isNull(row)) {
                        continue;
                    }
                    if (last.size() == 0 || !CellOrder.same(last, 0, cells, row)) {
                        last = new Column(1);
                        last.addCellOf(cells, row);
                        counted.clear();
                    }
                    List<Value> group = group(request.by(), batch.get(), columns, row);
                    if (counted.add(group)) {
                        groups.get(group)[term].count();
                    }
                }
            }
        }
    }

    @Override
    public List<List<Value>> repeatedKeys(TableShape table, List<ColumnShape> key, int limit) {
        List<List<Value>> repeated = new ArrayList<>();
        try (RowSource rows = new ExternalSort(
                reading.apply(new ReadRequest(table, key, List.of())), RowBatch::columns, CHUNK_BYTES, temporary)) {
            List<Value> last = List.of();
            long times = 0;
            for (var batch = rows.next(); batch.isPresent(); batch = rows.next()) {
                for (int row = 0; row < batch.get().rows(); row++) {
                    List<Value> now = batch.get().row(row);
                    if (times > 0 && KeyOrder.ASCENDING.compare(last, now) == 0) {
                        times++;
                        continue;
                    }
                    note(last, times, repeated);
                    if (repeated.size() == limit) {
                        return repeated;
                    }
                    last = now;
                    times = 1;
                }
            }
            note(last, times, repeated);
        }
        return repeated;
    }

    private static void note(List<Value> key, long times, List<List<Value>> repeated) {
        if (times > 1) {
            List<Value> with = new ArrayList<>(key);
            with.add(new Value.Int(times));
            repeated.add(with);
        }
    }

    private static ColumnShape figure(Kind kind) {
        return new ColumnShape(
                "figure", "", Optional.of(CanonicalType.of(kind)), true, Generation.COMPUTED, Optional.empty());
    }

    private static ColumnShape shape(TotalsRequest.Term term) {
        return switch (term.measure()) {
            case ROWS, FILLED, DISTINCT, LENGTH -> figure(Kind.INTEGER);
            case SUM, MEAN -> figure(term.exact() ? Kind.DECIMAL : Kind.DOUBLE);
            case MIN, MAX -> term.column().orElseThrow();
        };
    }

    /** One figure of one group, as far as it is worked out. */
    private static final class Figure {
        private final TotalsRequest.Term term;
        private final TableShape table;
        private long count;
        private long filled;
        private BigDecimal sum = BigDecimal.ZERO;
        private double floating;
        private Column end = new Column(1);

        Figure(TotalsRequest.Term term, TableShape table) {
            this.term = term;
            this.table = table;
        }

        void count() {
            count++;
        }

        void add(Column cells, int row) {
            if (cells.isNull(row)) {
                return;
            }
            switch (term.measure()) {
                case FILLED -> count++;
                case SUM -> {
                    filled++;
                    Value value = cells.value(row);
                    if (term.exact()) {
                        sum = sum.add(Numbers.of(value).orElseThrow(() -> unfit(value)));
                    } else {
                        double number = value instanceof Value.Double d
                                ? d.value()
                                : Numbers.of(value)
                                        .orElseThrow(() -> unfit(value))
                                        .doubleValue();
                        floating += term.absolute() ? Math.abs(number) : number;
                    }
                }
                case MIN, MAX -> {
                    int order = end.size() == 0 ? 0 : CellOrder.compare(cells, row, end, 0);
                    if (end.size() == 0 || (term.measure() == Measure.MIN ? order < 0 : order > 0)) {
                        end = new Column(1);
                        end.addCellOf(cells, row);
                    }
                }
                case LENGTH -> {
                    filled++;
                    Value value = cells.value(row);
                    count += value instanceof Value.Bytes bytes
                            ? bytes.value().length
                            : cells.text(row).getBytes(StandardCharsets.UTF_8).length;
                }
                case ROWS, DISTINCT, MEAN -> {
                    // counted apart, or worked out of others
                }
            }
        }

        private ToolException unfit(Value value) {
            return new ToolException(
                    ErrorKind.READ,
                    "a value that is no number stands in a column of numbers: " + value,
                    table.name() + "." + term.column().orElseThrow().name(),
                    "compare the rows: they show where it is");
        }

        Value value() {
            return switch (term.measure()) {
                case ROWS, FILLED, DISTINCT -> new Value.Int(count);
                case LENGTH -> filled == 0 ? Value.NULL : new Value.Int(count);
                case SUM, MEAN ->
                    filled == 0 ? Value.NULL : term.exact() ? new Value.Decimal(sum) : new Value.Double(floating);
                case MIN, MAX -> end.size() == 0 ? Value.NULL : end.value(0);
            };
        }
    }

    /** Hands figures out, a row per group. */
    private record Handed(int columns, Iterator<Map.Entry<List<Value>, Figure[]>> groups) implements RowSource {
        @Override
        public Optional<RowBatch> next() {
            List<Column> batch = RowCodec.emptyColumns(columns, ROWS_PER_BATCH);
            int rows = 0;
            while (rows < ROWS_PER_BATCH && groups.hasNext()) {
                Map.Entry<List<Value>, Figure[]> group = groups.next();
                List<Value> by = group.getKey();
                IntStream.range(0, by.size()).forEach(i -> batch.get(i).add(by.get(i)));
                for (int i = 0; i < group.getValue().length; i++) {
                    batch.get(by.size() + i).add(group.getValue()[i].value());
                }
                rows++;
            }
            return rows == 0 ? Optional.empty() : Optional.of(new RowBatch(batch, rows));
        }

        @Override
        public void close() {}
    }
}
