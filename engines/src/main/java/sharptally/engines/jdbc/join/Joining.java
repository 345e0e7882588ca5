package sharptally.engines.jdbc.join;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import sharptally.core.place.Address;
import sharptally.core.place.part.Obstacle;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.RowFilter;
import sharptally.core.shape.TableName;
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

    /**
     * What one session does so that another one sees it.
     *
     * @param given a query that does it, and is 1 then
     * @param seen a query that is 1 where it is seen
     * @param taken a query that takes it back; empty where it ends with the transaction
     */
    record Sign(String given, String seen, Optional<String> taken) {}

    /** A sign that only sessions of one {@link #instance} see; empty where two can't be taken for one. */
    default Optional<Sign> sign(long number) {
        return Optional.empty();
    }

    Outer outer();

    /** Why a table of the session's place can't take part in a join; empty when it can. */
    default Optional<Obstacle> problem(
            PlaceSession session, TableShape table, List<ColumnShape> columns, List<ColumnShape> key) {
        return Optional.empty();
    }

    /** A query for the one as whom tables are read, where that may decide what a view shows. */
    default Optional<String> reader() {
        return Optional.empty();
    }

    /** A query for where names without a schema are looked for. */
    default Optional<String> names() {
        return Optional.empty();
    }

    /** Whether the user's own SQL may mean something else where names without a schema are looked for elsewhere. */
    default boolean dependsOnNames(PlaceSession session, TableShape table, List<ColumnShape> columns) {
        return true;
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
     * A table of another place as it is called here.
     *
     * @param other where that place is
     * @param table with its schema
     */
    default TableName named(Address other, TableName table) {
        return table;
    }

    /**
     * The condition that two values are distinct. It must hold wherever what is read of them differs in meaning; it may
     * hold elsewhere.
     */
    String distinct(ColumnShape one, ColumnShape other);

    /** The condition that two texts have the same bytes, whatever the collation. */
    String same(ColumnShape one, ColumnShape other);
}
