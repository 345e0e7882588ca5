package sharptally.core.compare;

import java.lang.reflect.Proxy;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.stream.IntStream;
import sharptally.core.checksum.RowHash;
import sharptally.core.place.Place;
import sharptally.core.place.ReadRequest;
import sharptally.core.place.part.Checksums;
import sharptally.core.place.part.Obstacle;
import sharptally.core.place.part.RangeSeek;
import sharptally.core.place.part.Seek;
import sharptally.core.place.part.SumsRequest;
import sharptally.core.range.KeyRange;
import sharptally.core.range.RangeSum;
import sharptally.core.rows.KeyOrder;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;
import sharptally.core.types.Value;

/** A place of one table in memory that seeks in ranges of the key and works checksums out, as a database would. */
final class SeekingPlace implements RangeSeek, Checksums {
    private final TableShape table;
    private final List<List<Value>> rows;
    private final Map<List<ColumnShape>, Index> indexes = new HashMap<>();

    private final Comparator<List<Value>> order;
    private final Function<List<Value>, RangeSum> hashing;

    private SeekingPlace(
            TableShape table,
            List<List<Value>> rows,
            Comparator<List<Value>> order,
            Function<List<Value>, RangeSum> hashing) {
        this.hashing = hashing;
        this.table = table;
        this.rows = rows;
        this.order = order;
    }

    /** Orders text by its UTF-16 units, as some databases do, and so otherwise than we. */
    static final Comparator<List<Value>> BY_UNITS = (one, other) -> {
        for (int i = 0; i < Math.min(one.size(), other.size()); i++) {
            int c = one.get(i) instanceof Value.Text a && other.get(i) instanceof Value.Text b
                    ? a.value().compareTo(b.value())
                    : KeyOrder.ASCENDING.compare(List.of(one.get(i)), List.of(other.get(i)));
            if (c != 0) {
                return c;
            }
        }
        return Integer.compare(one.size(), other.size());
    };

    static Place of(TableShape table, List<List<Value>> rows, Comparator<List<Value>> order) {
        return of(table, rows, order, row -> new RangeSum(1, new RowHash().of(row)));
    }

    /**
     * @param hashing what the place makes of a row, which may be too little
     */
    static Place of(
            TableShape table,
            List<List<Value>> rows,
            Comparator<List<Value>> order,
            Function<List<Value>, RangeSum> hashing) {
        SeekingPlace place = new SeekingPlace(table, rows, order, hashing);
        return (Place) Proxy.newProxyInstance(
                Place.class.getClassLoader(),
                new Class<?>[] {Place.class},
                (proxy, method, arguments) -> switch (method.getName()) {
                    case "seeking", "checksums" -> Optional.of(place);
                    case "joins", "aggregates", "sampling", "imageForm", "records" -> Optional.empty();
                    case "read" -> place.read((ReadRequest) arguments[0]);
                    case "isOverdue" -> false;
                    case "readsOneState" -> true;
                    case "rest" -> null;
                    case "toString" -> "rows in memory";
                    default -> throw new AssertionError(method + " is not asked for");
                });
    }

    private Function<List<Value>, List<Value>> only(List<ColumnShape> columns) {
        List<Integer> places = columns.stream().map(table.columns()::indexOf).toList();
        return row -> places.stream().map(row::get).toList();
    }

    /** Rows in the order of a key, as an index has them. */
    private final class Index {
        private final List<List<Value>> keys;
        private final List<List<Value>> ordered;

        Index(List<ColumnShape> key) {
            var keyOf = only(key);
            ordered = rows.stream().sorted(Comparator.comparing(keyOf, order)).toList();
            keys = ordered.stream().map(keyOf).toList();
        }

        /** The first place whose key is not before this one. */
        private int from(List<Value> key) {
            int low = 0;
            int high = keys.size();
            while (low < high) {
                int middle = (low + high) >>> 1;
                if (order.compare(keys.get(middle), key) < 0) {
                    low = middle + 1;
                } else {
                    high = middle;
                }
            }
            return low;
        }

        IntStream places(KeyRange range) {
            int first = from(range.from());
            if (range.holdsOne()) {
                return IntStream.range(first, keys.size())
                        .takeWhile(i -> order.compare(keys.get(i), range.from()) == 0)
                        .filter(i -> keys.get(i).equals(range.from()));
            }
            return IntStream.range(first, range.to().isEmpty() ? keys.size() : Math.max(first, from(range.to())));
        }
    }

    private synchronized Index index(List<ColumnShape> key) {
        return indexes.computeIfAbsent(key, Index::new);
    }

    private List<List<Value>> inOrder(List<ColumnShape> key, List<KeyRange> ranges) {
        Index index = index(key);
        return ranges.isEmpty()
                ? index.ordered
                : ranges.stream()
                        .flatMapToInt(index::places)
                        .distinct()
                        .sorted()
                        .mapToObj(index.ordered::get)
                        .toList();
    }

    private RowSource read(ReadRequest request) {
        List<List<Value>> wanted = inOrder(request.orderBy(), request.ranges()).stream()
                .skip(request.skip())
                .limit(request.limit().orElse(Long.MAX_VALUE))
                .map(only(request.columns()))
                .toList();
        return ListPlace.of(wanted, request.columns().size(), 7);
    }

    @Override
    public Seek seek(TableShape shape, List<ColumnShape> key) {
        return Seek.BY_INDEX;
    }

    @Override
    public Optional<String> ownForm() {
        return Optional.empty();
    }

    @Override
    public Optional<Obstacle> problem(SumsRequest request) {
        return Optional.empty();
    }

    @Override
    public void cancel() {}

    @Override
    public List<List<Value>> ends(ReadRequest keys) {
        List<List<Value>> all = inOrder(keys.orderBy(), keys.ranges()).stream()
                .map(only(keys.orderBy()))
                .toList();
        return all.isEmpty() ? List.of() : List.of(all.get(0), all.get(all.size() - 1));
    }

    @Override
    public List<List<Value>> bounds(ReadRequest keys, long rowsPerRange) {
        List<List<Value>> all = inOrder(keys.orderBy(), keys.ranges()).stream()
                .map(only(keys.orderBy()))
                .toList();
        List<List<Value>> bounds = new ArrayList<>();
        for (long i = rowsPerRange; i < all.size(); i += rowsPerRange) {
            bounds.add(all.get((int) i));
        }
        return bounds;
    }

    @Override
    public Map<Long, RangeSum> sums(SumsRequest request) {
        Map<Long, RangeSum> sums = new TreeMap<>();
        var hashed =
                only(request.columns().stream().map(SumsRequest.Hashed::column).toList());
        Index index = index(request.key());
        for (int r = 0; r < request.ranges().size(); r++) {
            int range = r;
            index.places(request.ranges().get(r)).forEach(at -> {
                long number = request.step().isPresent()
                        ? ((Value.Int) index.keys.get(at).get(0)).value()
                                / request.step().getAsLong()
                        : range;
                sums.merge(number, hashing.apply(hashed.apply(index.ordered.get(at))), RangeSum::plus);
            });
        }
        return sums;
    }
}
