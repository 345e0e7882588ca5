package sharptally.core.place.part;

import java.util.List;
import sharptally.core.place.ReadRequest;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;
import sharptally.core.types.Value;

/** Finding the rows in a range of a key. */
public interface RangeSeek {
    /** How the rows in a range of these columns are found. */
    Seek seek(TableShape table, List<ColumnShape> key);

    /**
     * Keys that cut the rows of a request into ranges of about so many rows: ascending, without NULL, none of them the
     * first key. All rows are counted for that, none is sent.
     *
     * @param keys asks for the key's columns in the key's order, and for at most one range
     */
    List<List<Value>> bounds(ReadRequest keys, long rowsPerRange);

    /**
     * The same from a random sample of the keys, which takes a fraction of the time: how many rows lie between two of them
     * varies by a third or so, and the next time others come.
     */
    default List<List<Value>> roughBounds(ReadRequest keys, long rowsPerRange) {
        return bounds(keys, rowsPerRange);
    }

    /**
     * The first and the last key of a request; none where it has no row.
     *
     * @param keys as for {@link #bounds}, of columns that are found {@link Seek#BY_INDEX}
     */
    List<List<Value>> ends(ReadRequest keys);
}
