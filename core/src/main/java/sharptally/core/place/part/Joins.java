package sharptally.core.place.part;

import java.util.List;
import sharptally.core.range.KeyRange;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;

/** Joining two tables where they are. */
public interface Joins {
    /** Names the server, or the part of it, whose tables can be joined with each other. */
    String instance();

    /**
     * The rows of two tables of this {@link #instance} that are distinct: in key order, the source's columns, then the
     * target's. Where a side has no such row, all of its columns are NULL.
     */
    RowSource joined(JoinRequest request);

    /** How many rows of a table are in a range. */
    long rows(TableShape table, List<ColumnShape> key, KeyRange range);
}
