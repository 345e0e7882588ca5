package sharptally.core.compare.run;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import sharptally.core.compare.Pair;
import sharptally.core.fault.ToolException;
import sharptally.core.match.ColumnPair;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Place;
import sharptally.core.place.ReadRequest;
import sharptally.core.place.part.RangeSeek;
import sharptally.core.place.part.Seek;
import sharptally.core.range.DifferenceHistogram;
import sharptally.core.range.KeyRange;
import sharptally.core.rows.KeyOrder;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;
import sharptally.core.types.Value;

/** The first and the last key of both sides together, by which it is told where rows differ, whatever the method. */
record KeyEnds(TableMatch match, Pair places, KeyRange range) {
    /** The cells between the two ends; as they are, where a database can't find its ends at once. */
    List<DifferenceHistogram.Cell> around(List<DifferenceHistogram.Cell> cells) {
        try {
            List<ColumnShape> ofSource =
                    match.keyPairs().stream().map(ColumnPair::source).toList();
            List<ColumnShape> ofTarget =
                    match.keyPairs().stream().map(ColumnPair::target).toList();
            Optional<List<List<Value>>> source = ends(places.source(), match.source(), ofSource);
            Optional<List<List<Value>>> target =
                    source.isPresent() ? ends(places.target(), match.target(), ofTarget) : Optional.empty();
            return target.isPresent() ? around(cells, source.get(), target.get()) : cells;
        } catch (ToolException e) {
            // All rows are compared by now; where the ends are is the least of it.
            return cells;
        }
    }

    private static List<DifferenceHistogram.Cell> around(
            List<DifferenceHistogram.Cell> cells, List<List<Value>> source, List<List<Value>> target) {
        List<List<Value>> all = new ArrayList<>(source);
        all.addAll(target);
        all.sort(KeyOrder.ASCENDING);
        return all.isEmpty() ? cells : DifferenceHistogram.between(all.get(0), cells, all.get(all.size() - 1));
    }

    private Optional<List<List<Value>>> ends(Place place, TableShape table, List<ColumnShape> key) {
        // An index may have NULL at its other end, and would have to be sorted.
        if (table.query().isPresent()
                || !table.filters().isEmpty()
                || key.stream().anyMatch(ColumnShape::nullable)) {
            return Optional.empty();
        }
        Optional<RangeSeek> seeking = place.seeking().filter(s -> s.seek(table, key) == Seek.BY_INDEX);
        ReadRequest keys = new ReadRequest(table, key, key).within(range.holdsAll() ? List.of() : List.of(range));
        return seeking.map(s -> s.ends(keys));
    }
}
