package sharptally.core.place;

import java.util.List;
import java.util.OptionalLong;
import sharptally.core.range.KeyRange;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;
import sharptally.core.types.Value;

/**
 * Which rows to read.
 *
 * @param columns what to read, in this order
 * @param orderBy the columns to order by, ascending, NULL first, text in binary order where the engine can; empty for
 *     any order
 * @param ranges only rows whose columns of {@code orderBy} are in one of these; empty for all rows
 * @param after values of the columns of {@code orderBy}: only rows behind these are read; empty for all rows
 * @param skip how many rows to pass over before the first that is read
 * @param limit how many rows to read at most
 * @param images whether rows are wanted with the bytes as they were sent, if the place can keep them
 */
public record ReadRequest(
        TableShape table,
        List<ColumnShape> columns,
        List<ColumnShape> orderBy,
        List<KeyRange> ranges,
        List<Value> after,
        long skip,
        OptionalLong limit,
        boolean images) {
    public ReadRequest {
        columns = List.copyOf(columns);
        orderBy = List.copyOf(orderBy);
        ranges = List.copyOf(ranges);
        after = List.copyOf(after);
    }

    /** All rows. */
    public ReadRequest(TableShape table, List<ColumnShape> columns, List<ColumnShape> orderBy) {
        this(table, columns, orderBy, List.of(), List.of(), 0, OptionalLong.empty(), false);
    }

    /** The same, but only the rows behind a key. */
    public ReadRequest after(List<Value> key) {
        return new ReadRequest(table, columns, orderBy, ranges, key, skip, limit, images);
    }

    /** The same, but no more than so many rows. */
    public ReadRequest first(long rows) {
        return new ReadRequest(table, columns, orderBy, ranges, after, skip, OptionalLong.of(rows), images);
    }

    /** The same without the first rows. */
    public ReadRequest skipping(long rows) {
        return new ReadRequest(table, columns, orderBy, ranges, after, rows, limit, images);
    }

    /** The same, but only the rows in some ranges. */
    public ReadRequest within(List<KeyRange> wanted) {
        return new ReadRequest(table, columns, orderBy, wanted, after, skip, limit, images);
    }

    /** The same, with or without the bytes as they were sent. */
    public ReadRequest withImages(boolean wanted) {
        return new ReadRequest(table, columns, orderBy, ranges, after, skip, limit, wanted);
    }
}
