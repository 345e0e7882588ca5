package sharptally.engines.jdbc.join;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import sharptally.core.place.Address;
import sharptally.core.place.part.Obstacle;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.RowFilter;
import sharptally.core.shape.TableShape;
import sharptally.engines.jdbc.PlaceSession;

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

    /** Why a table of the session's place can't take part in a join; empty when it can. */
    default Optional<Obstacle> problem(
            PlaceSession session, TableShape table, List<ColumnShape> columns, List<ColumnShape> key) {
        return Optional.empty();
    }

    /**
     * A query that is 1 where a key that nothing declares is unique and without NULL; empty where it may change meanwhile, or
     * would take longer than it is worth.
     */
    default Optional<String> unique(TableShape table, List<ColumnShape> key) {
        return Optional.empty();
    }

    /** Whether SQL of the user's own takes part, which another file would understand in another way, or not at all. */
    static boolean hasOwnSql(TableShape table, List<ColumnShape> columns) {
        return table.query().isPresent()
                || table.filters().stream().anyMatch(RowFilter.Condition.class::isInstance)
                || columns.stream().anyMatch(c -> c.expression().isPresent());
    }

    /**
     * The schema by which another place's own tables go.
     *
     * @param connection by which they are to be reached
     * @param other where that place is
     * @param own the schema as the other place itself calls it
     */
    default String schemaOf(Connection connection, Address other, String own) throws SQLException {
        return own;
    }

    /**
     * The condition that two values are distinct. It must hold wherever what is read of them differs in meaning; it may
     * hold elsewhere.
     */
    String distinct(ColumnShape one, ColumnShape other);

    /** The condition that two texts have the same bytes, whatever the collation. */
    String same(ColumnShape one, ColumnShape other);
}
