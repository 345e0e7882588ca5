package sharptally.core.place;

import java.util.List;
import java.util.OptionalLong;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;
import sharptally.core.types.Value;

/**
 * Which rows to read.
 *
 * @param columns what to read, in this order
 * @param orderBy the columns to order by, ascending, NULL first, text in binary order where the engine can; empty for
 *     any order
 * @param after values of the columns of {@code orderBy}: only rows behind these are read; empty for all rows
 * @param limit how many rows to read at most
 */
public record ReadRequest(
        TableShape table, List<ColumnShape> columns, List<ColumnShape> orderBy, List<Value> after, OptionalLong limit) {
    public ReadRequest {
        columns = List.copyOf(columns);
        orderBy = List.copyOf(orderBy);
        after = List.copyOf(after);
    }

    /** All rows. */
    public ReadRequest(TableShape table, List<ColumnShape> columns, List<ColumnShape> orderBy) {
        this(table, columns, orderBy, List.of(), OptionalLong.empty());
    }

    /** The same, but only the rows behind a key. */
    public ReadRequest after(List<Value> key) {
        return new ReadRequest(table, columns, orderBy, key, limit);
    }

    /** The same, but no more than so many rows. */
    public ReadRequest first(long rows) {
        return new ReadRequest(table, columns, orderBy, after, OptionalLong.of(rows));
    }
}
