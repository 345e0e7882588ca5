package sharptally.core.place.union;

import java.util.List;
import java.util.TreeSet;
import java.util.stream.IntStream;
import sharptally.core.place.Place;
import sharptally.core.place.ReadRequest;
import sharptally.core.place.part.RangeSeek;
import sharptally.core.place.part.Seek;
import sharptally.core.rows.KeyOrder;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;
import sharptally.core.types.Value;

/** Ranges of a union's key, which are ranges of the key in each of its places. */
record UnionSeek(UnionPlace union, List<Place> parts, UnionTables tables) implements RangeSeek {
    @Override
    public Seek seek(TableShape table, List<ColumnShape> key) {
        return IntStream.range(0, parts.size())
                .mapToObj(i -> {
                    TableShape own = tables.in(i, table);
                    return parts.get(i).seeking().orElseThrow().seek(own, UnionTables.in(own, key));
                })
                .max(Enum::compareTo)
                .orElseThrow();
    }

    /** Those of all places: so each of them has about so many rows in a range, or fewer. */
    @Override
    public List<List<Value>> bounds(ReadRequest keys, long rowsPerRange) {
        return bounds(keys, rowsPerRange, RangeSeek::bounds);
    }

    @Override
    public List<List<Value>> roughBounds(ReadRequest keys, long rowsPerRange) {
        return bounds(keys, rowsPerRange, RangeSeek::roughBounds);
    }

    private interface Asking {
        List<List<Value>> ask(RangeSeek seek, ReadRequest keys, long rowsPerRange);
    }

    private List<List<Value>> bounds(ReadRequest keys, long rowsPerRange, Asking asking) {
        TreeSet<List<Value>> all = new TreeSet<>(KeyOrder.ASCENDING);
        for (int i = 0; i < parts.size(); i++) {
            RangeSeek seek = parts.get(i).seeking().orElseThrow();
            all.addAll(asking.ask(seek, union.in(i, keys), Math.max(1, rowsPerRange / parts.size())));
        }
        return List.copyOf(all);
    }

    @Override
    public List<List<Value>> ends(ReadRequest keys) {
        TreeSet<List<Value>> all = new TreeSet<>(KeyOrder.ASCENDING);
        for (int i = 0; i < parts.size(); i++) {
            all.addAll(parts.get(i).seeking().orElseThrow().ends(union.in(i, keys)));
        }
        return all.isEmpty() ? List.of() : List.of(all.first(), all.last());
    }
}
