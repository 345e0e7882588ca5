package sharptally.engines.jdbc.join;

import sharptally.core.shape.ColumnShape;

/** How one engine joins two tables of one server to find the rows that are distinct. Immutable. */
public interface Joining {
    /** Whether one query can hand over what only one table has, from either. */
    enum Outer {
        /** By a full join. */
        FULL,
        /** By two joins, one from each side. */
        LEFT
    }

    /** A query whose one value names the server, or the part of it whose tables can be joined. */
    String instance();

    Outer outer();

    /**
     * The condition that two values are distinct. It must hold wherever what is read of them differs in meaning; it may
     * hold elsewhere.
     */
    String distinct(ColumnShape one, ColumnShape other);

    /** The condition that two texts have the same bytes, whatever the collation. */
    String same(ColumnShape one, ColumnShape other);
}
