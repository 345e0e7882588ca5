package sharptally.core.checksum;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;
import sharptally.core.place.Place;
import sharptally.core.place.ReadRequest;
import sharptally.core.place.part.Aggregates;
import sharptally.core.place.part.Measure;
import sharptally.core.place.part.RangeSeek;
import sharptally.core.place.part.TotalsRequest;
import sharptally.core.range.KeyRange;
import sharptally.core.rows.RowBatch;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;
import sharptally.core.types.Value;

/**
 * Cuts the key into ranges of about equal numbers of rows. Whole numbers that are nearly without gaps are cut evenly
 * between the least and the greatest; else the place looks for every n-th key.
 */
public final class Cutting {
    /** How many numbers there may be to a row for them to count as nearly without gaps. */
    private static final double DENSE = 1.5;

    private final TableShape table;
    private final List<ColumnShape> key;
    private final Place place;
    private final boolean roughly;

    /** To be cut in the same way each time, as long as the rows are the same. */
    public Cutting(TableShape table, List<ColumnShape> key, Place place) {
        this(table, key, place, false);
    }

    /**
     * @param roughly whether bounds may come from a random sample
     */
    public Cutting(TableShape table, List<ColumnShape> key, Place place, boolean roughly) {
        this.table = table;
        this.key = List.copyOf(key);
        this.place = place;
        this.roughly = roughly;
    }

    /**
     * @param wholeNumbers about how many rows there are, where the key is one whole number; empty where it is not
     */
    public List<KeyRange> cut(KeyRange within, long rowsPerRange, OptionalLong wholeNumbers) {
        if (within.holdsAll()
                && wholeNumbers.isPresent()
                && wholeNumbers.getAsLong() > 0
                && table.filters().isEmpty()) {
            Optional<List<List<Value>>> even = evenBounds(wholeNumbers.getAsLong(), rowsPerRange);
            if (even.isPresent()) {
                return within.cutAt(even.get());
            }
        }
        ReadRequest keys = new ReadRequest(table, key, key).within(within.holdsAll() ? List.of() : List.of(within));
        RangeSeek seek = place.seeking().orElseThrow();
        return within.cutAt(roughly ? seek.roughBounds(keys, rowsPerRange) : seek.bounds(keys, rowsPerRange));
    }

    private Optional<List<List<Value>>> evenBounds(long rows, long rowsPerRange) {
        if (place.aggregates().isEmpty()) {
            return Optional.empty();
        }
        Optional<ColumnShape> column = Optional.of(key.get(0));
        TotalsRequest ends = new TotalsRequest(
                table,
                List.of(),
                List.of(
                        new TotalsRequest.Term(Measure.MIN, column, true),
                        new TotalsRequest.Term(Measure.MAX, column, true)));
        try (Aggregates.Totals totals = place.aggregates().get().totals(ends)) {
            List<Value> found = totals.rows().next().map(RowBatch::columns).stream()
                    .flatMap(List::stream)
                    .map(c -> c.value(0))
                    .toList();
            if (found.size() != 2
                    || !(found.get(0) instanceof Value.Int least)
                    || !(found.get(1) instanceof Value.Int greatest)) {
                return Optional.empty();
            }
            double span = (double) greatest.value() - least.value() + 1;
            if (span > DENSE * rows || span < rowsPerRange) {
                return Optional.empty();
            }
            // What lies before the least and behind the greatest has ranges of its own, so that all others have two
            // ends.
            List<List<Value>> bounds = new ArrayList<>();
            long width = (long) (rowsPerRange * Math.max(1, span / rows));
            for (long left = (long) span - 1; left >= 0; left -= width) {
                bounds.add(List.of(new Value.Int(greatest.value() - left)));
            }
            if (greatest.value() < Long.MAX_VALUE) {
                bounds.add(List.of(new Value.Int(greatest.value() + 1)));
            }
            return Optional.of(bounds);
        }
    }
}
