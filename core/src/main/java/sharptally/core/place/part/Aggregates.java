package sharptally.core.place.part;

import java.util.List;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;
import sharptally.core.types.Value;

/** Figures over rows that the place works out by itself. */
public interface Aggregates {
    long countRows(TableShape table);

    /**
     * Works totals out; the caller closes their rows.
     *
     * @throws sharptally.core.fault.ToolException when the engine can't work one of them out in a form that other
     *     engines share
     */
    Totals totals(TotalsRequest request);

    /**
     * Keys that stand in more than one row: at most so many, each with the number of its rows behind it.
     *
     * @param key columns of the table
     */
    List<List<Value>> repeatedKeys(TableShape table, List<ColumnShape> key, int limit);

    /**
     * @param columns first one per group term, then one per figure
     * @param rows a row per group
     */
    record Totals(List<ColumnShape> columns, RowSource rows) implements AutoCloseable {
        public Totals {
            columns = List.copyOf(columns);
        }

        @Override
        public void close() {
            rows.close();
        }
    }
}
