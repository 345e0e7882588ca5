package sharptally.core.place.part;

import java.util.List;
import java.util.Optional;
import sharptally.core.place.Place;
import sharptally.core.range.KeyRange;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;

/** Joining two tables where they are. */
public interface Joins {
    /** Names the server, or the part of it, whose tables can be joined with each other. */
    String instance();

    /**
     * Whether another place of the same {@link #instance} sees something that this one does for the moment: two that only
     * look alike are never joined.
     */
    boolean isSeenBy(Joins other);

    /**
     * Why a table of this place can't take part in a join; empty when it can.
     *
     * @param columns what is read of it
     * @param key the columns by which rows are found on the other side
     */
    Optional<Obstacle> problem(TableShape table, List<ColumnShape> columns, List<ColumnShape> key);

    Standpoint standpoint();

    /** Whether from another standpoint, of the same {@link #instance}, a table of this place could show something else. */
    boolean dependsOnStandpoint(TableShape table, List<ColumnShape> columns, Standpoint other);

    /** Whether a key that is not declared so was found, by looking at all rows, to be unique and without NULL. */
    boolean isFoundUnique(TableShape table, List<ColumnShape> key);

    /**
     * A table of another place by the name that it has here. What this place needs to reach it is done, if it was not.
     *
     * @param other of the same {@link #instance}, or this very place
     */
    TableShape reached(Place other, TableShape table);

    /**
     * The rows of two tables of this {@link #instance} that are distinct: in key order, the source's columns, then the
     * target's. Where a side has no such row, all of its columns are NULL.
     */
    RowSource joined(JoinRequest request);

    /** How many rows of a table are in a range. */
    long rows(TableShape table, List<ColumnShape> key, KeyRange range);
}
