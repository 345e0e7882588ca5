package sharptally.core.checksum;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.function.BooleanSupplier;
import java.util.stream.IntStream;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Place;
import sharptally.core.place.ReadRequest;
import sharptally.core.place.part.Checksums;
import sharptally.core.place.part.Obstacle;
import sharptally.core.place.part.Seek;
import sharptally.core.place.part.SumsRequest;
import sharptally.core.place.part.SumsRequest.Hashed;
import sharptally.core.range.KeyRange;
import sharptally.core.range.RangeSum;
import sharptally.core.rows.Cast;
import sharptally.core.rows.Column;
import sharptally.core.rows.KeyOrder;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;

/**
 * The checksums of one table over ranges of its key, in the common form: worked out by the database where it has that
 * form, else by reading the rows.
 */
public final class TableSums {
    private static final int RANGES_PER_QUERY = 200;

    private final Place place;
    private final TableShape table;
    private final List<ColumnShape> key;
    private final List<Hashed> columns;
    private final BooleanSupplier stopAsked;

    /**
     * @param columns what goes into the hash, the key's columns among them
     */
    public TableSums(
            Place place, TableShape table, List<ColumnShape> key, List<Hashed> columns, BooleanSupplier stopAsked) {
        this.place = place;
        this.table = table;
        this.key = List.copyOf(key);
        this.columns = List.copyOf(columns);
        this.stopAsked = stopAsked;
    }

    /** Why the database itself can't work the checksums out, so that rows are read; empty when it can. */
    public Optional<Obstacle> readProblem() {
        SumsRequest request =
                new SumsRequest(table, columns, key, List.of(), OptionalLong.empty(), SumsRequest.Form.COMMON);
        if (place.checksums().isEmpty()) {
            return Optional.of(new Obstacle.NotOffered());
        }
        return seek() == Seek.NEVER
                ? Optional.of(new Obstacle.ForeignOrder())
                : place.checksums().get().problem(request);
    }

    private Seek seek() {
        return place.seeking().map(s -> s.seek(table, key)).orElse(Seek.NEVER);
    }

    /** Ranges of about so many rows, from the data. */
    public List<KeyRange> ranges(KeyRange within, long rowsPerRange) {
        if (seek() != Seek.NEVER) {
            return new Cutting(table, key, place).cut(within, rowsPerRange, OptionalLong.empty());
        }
        Sampled sampled = new Sampled(rowsPerRange);
        read(key, List.of(), sampled::add);
        return within.cutAt(sampled.bounds());
    }

    /** Keys of rows that come in any order, evenly among them, by which ranges of about so many rows can be told. */
    private static final class Sampled {
        private static final int PER_RANGE = 16;
        private static final int MAX_KEYS = 1 << 16;

        private final long rowsPerRange;
        private final List<List<Value>> keys = new ArrayList<>();
        private long rowsPerKey;
        private long rows;

        Sampled(long rowsPerRange) {
            this.rowsPerRange = rowsPerRange;
            this.rowsPerKey = Math.max(1, rowsPerRange / PER_RANGE);
        }

        void add(List<Value> key) {
            if (rows++ % rowsPerKey == 0 && !key.contains(Value.NULL)) {
                keys.add(key);
            }
            if (keys.size() > MAX_KEYS) {
                rowsPerKey *= 2;
                boolean[] kept = {false};
                keys.removeIf(k -> kept[0] = !kept[0]);
            }
        }

        /** Ascending, each of them once, and not the first of all. */
        List<List<Value>> bounds() {
            keys.sort(KeyOrder.ASCENDING);
            int step = (int) Math.max(1, rowsPerRange / rowsPerKey);
            List<List<Value>> bounds = new ArrayList<>();
            for (int i = step; i < keys.size(); i += step) {
                List<Value> last = bounds.isEmpty() ? keys.get(0) : bounds.get(bounds.size() - 1);
                if (KeyOrder.ASCENDING.compare(last, keys.get(i)) < 0) {
                    bounds.add(keys.get(i));
                }
            }
            return bounds;
        }
    }

    /**
     * What each range holds.
     *
     * @param ranges in key order, none of them beginning before the one before ends
     */
    public List<RangeSum> sums(List<KeyRange> ranges) {
        return readProblem().isEmpty() ? asked(ranges) : hashedHere(ranges);
    }

    private List<RangeSum> asked(List<KeyRange> ranges) {
        List<RangeSum> sums = new ArrayList<>();
        boolean seeks = seek() == Seek.BY_INDEX;
        Checksums database = place.checksums().orElseThrow();
        int step = seeks ? RANGES_PER_QUERY : ranges.size();
        for (int i = 0; i < ranges.size(); i += step) {
            checkStop();
            List<KeyRange> some = ranges.subList(i, Math.min(ranges.size(), i + step));
            Map<Long, RangeSum> found = database.sums(
                    new SumsRequest(table, columns, key, some, OptionalLong.empty(), SumsRequest.Form.COMMON));
            for (int n = 0; n < some.size(); n++) {
                RangeSum sum = found.getOrDefault((long) n, RangeSum.NOTHING);
                // Rows of which the database could make no hash, such as one longer than it can join, are hashed here.
                sums.add(
                        sum.unhashed() == 0
                                ? sum
                                : hashedHere(List.of(some.get(n))).get(0));
            }
        }
        return sums;
    }

    private void checkStop() {
        if (stopAsked.getAsBoolean()) {
            throw new ToolException(
                    ErrorKind.INCOMPLETE, "stopped on request", table.name().toString(), "nothing was proved");
        }
    }

    private List<RangeSum> hashedHere(List<KeyRange> ranges) {
        RangeSum[] sums = new RangeSum[ranges.size()];
        Arrays.fill(sums, RangeSum.NOTHING);
        RowHash hash = new RowHash();
        int[] keyPlaces = key.stream()
                .mapToInt(k -> IntStream.range(0, columns.size())
                        .filter(i -> columns.get(i).column().equals(k))
                        .findFirst()
                        .orElseThrow())
                .toArray();
        RangeFinder finder = new RangeFinder(ranges);
        read(columns.stream().map(Hashed::column).toList(), seekable(ranges), row -> {
            int range = finder.of(Arrays.stream(keyPlaces).mapToObj(row::get).toList());
            if (range >= 0) {
                sums[range] = sums[range].plus(new RangeSum(1, hash.of(row)));
            }
        });
        return List.of(sums);
    }

    /** The ranges where the place can find their rows; none where all rows are to be looked at. */
    private List<KeyRange> seekable(List<KeyRange> ranges) {
        return ranges.size() == 1 && seek() != Seek.NEVER ? ranges : List.of();
    }

    /** Rows, all of them or those of some ranges, their values as they go into the hash. */
    private void read(List<ColumnShape> wanted, List<KeyRange> ranges, java.util.function.Consumer<List<Value>> to) {
        List<Cast> casts = wanted.stream().map(this::cast).toList();
        List<ColumnShape> order = wanted.equals(key) || !ranges.isEmpty() ? key : List.of();
        try (RowSource rows = place.read(new ReadRequest(table, wanted, order).within(ranges))) {
            for (Optional<RowBatch> batch = rows.next(); batch.isPresent(); batch = rows.next()) {
                checkStop();
                List<Column> cells = new ArrayList<>();
                for (int i = 0; i < wanted.size(); i++) {
                    cells.add(casts.get(i).apply(batch.get().column(i)));
                }
                RowBatch cast = new RowBatch(cells, batch.get().rows());
                for (int row = 0; row < cast.rows(); row++) {
                    to.accept(cast.row(row));
                }
            }
        }
    }

    /** Documents are hashed as the database writes them. */
    private Cast cast(ColumnShape column) {
        Hashed hashed = columns.stream()
                .filter(c -> c.column().equals(column))
                .findFirst()
                .orElseThrow();
        Kind kind = hashed.comparedAs() == Kind.JSON ? Kind.ANY : hashed.comparedAs();
        return new Cast(column.type().orElseThrow(), kind, hashed.digits());
    }

    /** The rows of some ranges, in key order. */
    public RowSource rows(List<KeyRange> ranges) {
        return place.read(
                new ReadRequest(table, columns.stream().map(Hashed::column).toList(), key).within(ranges));
    }
}
