package sharptally.spark.work;

import java.io.Serializable;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.List;
import java.util.stream.IntStream;
import sharptally.core.match.TableMatch;
import sharptally.core.rows.CellOrder;
import sharptally.core.rows.Column;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowCodec;
import sharptally.core.rows.RowPack;
import sharptally.core.rows.RowSource;
import sharptally.core.types.Value;

/**
 * Keys that cut all keys into parts, in order; the rows of a key are in one part.
 *
 * @param packed the keys, ascending, in their compared forms
 */
public record KeyBounds(byte[] packed, int columns) implements Serializable {
    /**
     * @param samples some keys, as packs
     * @param parts how many are wanted at most
     */
    public static KeyBounds of(List<byte[]> samples, TableMatch match, int parts) {
        int columns = KeyForms.count(match);
        List<RowBatch> batches = batches(samples.iterator(), columns);
        List<int[]> places = new ArrayList<>();
        for (int b = 0; b < batches.size(); b++) {
            for (int row = 0; row < batches.get(b).rows(); row++) {
                places.add(new int[] {b, row});
            }
        }
        places.sort((one, other) -> compare(
                batches.get(one[0]).columns(), one[1], batches.get(other[0]).columns(), other[1]));
        RowPack pack = new RowPack();
        int[] last = null;
        for (int part = 1; part < parts; part++) {
            int at = (int) ((long) part * places.size() / parts);
            int[] place = at < places.size() ? places.get(at) : null;
            if (place == null) {
                continue;
            }
            List<Column> here = batches.get(place[0]).columns();
            if (last == null || compare(batches.get(last[0]).columns(), last[1], here, place[1]) < 0) {
                pack.add(here, place[1]);
                last = place;
            }
        }
        return new KeyBounds(pack.take(), columns);
    }

    /** None: one part holds all. */
    public static KeyBounds none(TableMatch match) {
        return new KeyBounds(new byte[0], KeyForms.count(match));
    }

    /**
     * @param bounds ascending
     */
    public static KeyBounds at(List<List<Value>> bounds, TableMatch match) {
        RowPack pack = new RowPack();
        for (List<Value> bound : bounds) {
            List<Column> cells = RowCodec.emptyColumns(bound.size(), 1);
            for (int i = 0; i < bound.size(); i++) {
                cells.get(i).add(bound.get(i));
            }
            pack.add(cells, 0);
        }
        return new KeyBounds(pack.take(), KeyForms.count(match));
    }

    private static List<RowBatch> batches(Iterator<byte[]> packs, int columns) {
        List<RowBatch> batches = new ArrayList<>();
        try (RowSource rows = RowPack.rows(packs, columns)) {
            for (var batch = rows.next(); batch.isPresent(); batch = rows.next()) {
                batches.add(batch.get());
            }
        }
        return batches;
    }

    private static int compare(List<Column> one, int oneRow, List<Column> other, int otherRow) {
        for (int i = 0; i < one.size(); i++) {
            int c = CellOrder.compare(one.get(i), oneRow, other.get(i), otherRow);
            if (c != 0) {
                return c;
            }
        }
        return 0;
    }

    /** Finds the parts of keys. Used by one thread. */
    public final class Finder {
        private final List<Column> bounds;
        private final int count;

        Finder() {
            bounds = IntStream.range(0, columns).mapToObj(i -> new Column(64)).toList();
            for (RowBatch batch : batches(List.of(packed).iterator(), columns)) {
                for (int row = 0; row < batch.rows(); row++) {
                    for (int i = 0; i < columns; i++) {
                        bounds.get(i).addCellOf(batch.column(i), row);
                    }
                }
            }
            count = bounds.get(0).size();
        }

        /** How many parts there are. */
        public int parts() {
            return count + 1;
        }

        /** The part of a key: of all bounds that are not above it, how many there are. */
        public int part(List<Column> key, int row) {
            int from = 0;
            int to = count;
            while (from < to) {
                int middle = (from + to) >>> 1;
                if (compare(bounds, middle, key, row) <= 0) {
                    from = middle + 1;
                } else {
                    to = middle;
                }
            }
            return from;
        }
    }

    public Finder finder() {
        return new Finder();
    }
}
