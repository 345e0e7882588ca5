package sharptally.core.place;

import java.util.List;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.TableShape;

/** Counts rows, by the place where it can, else by reading them. */
public final class RowCount {
    private RowCount() {}

    public static long of(Place place, TableShape table) {
        return place.aggregates().map(figures -> figures.countRows(table)).orElseGet(() -> read(place, table));
    }

    private static long read(Place place, TableShape table) {
        long count = 0;
        try (RowSource rows = place.read(new ReadRequest(table, table.columns(), List.of()))) {
            for (var batch = rows.next(); batch.isPresent(); batch = rows.next()) {
                count += batch.get().rows();
            }
        }
        return count;
    }
}
