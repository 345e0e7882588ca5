package sharptally.engines.jdbc.catalogue;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import sharptally.core.place.Estimate;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Partitioning;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;

/** What a database says about its tables. Immutable. */
public interface Catalogue {
    /** The schema whose tables go by their bare names. */
    String ownSchema(Connection connection) throws SQLException;

    /** The user's own tables and views, by name. */
    List<TableName> tables(Connection connection) throws SQLException;

    /** What is worth knowing of the place itself: user, TLS, character set, time zone; name to value, in order. */
    Map<String, String> facts(Connection connection) throws SQLException;

    /** About how large a table is, as far as that is told without reading it. */
    Estimate estimate(Connection connection, TableName table) throws SQLException;

    /** Why tables, or columns of one, may be there that are not listed; see {@code Place.hides}. */
    Optional<String> hides(Connection connection, Optional<TableName> table) throws SQLException;

    TableShape describe(Connection connection, TableName table) throws SQLException;

    /**
     * All tables of a table's schema, by name, in as many questions as one of them takes; empty where each has to be asked
     * for by itself.
     */
    default Map<TableName, TableShape> describeAll(Connection connection, TableName one) throws SQLException {
        return Map.of();
    }

    /** The columns of a query, without running it to its end. */
    List<ColumnShape> describeQuery(Connection connection, String query) throws SQLException;

    /** How far the database has been written; see {@code Place.writtenTo}. */
    default Optional<String> writtenTo(Connection connection) throws SQLException {
        return Optional.empty();
    }

    /** Whether it has come as far as another one; see {@code Place.hasReplayed}. */
    default Optional<Boolean> hasReplayed(Connection connection, String position) throws SQLException {
        return Optional.empty();
    }

    /**
     * The number that the next row gets in a column that the database numbers by itself; empty where it does not tell, or
     * can't fall behind the numbers that are there.
     */
    default Optional<Long> nextNumber(Connection connection, TableName table, String column) throws SQLException {
        return Optional.empty();
    }

    /** How it is asked what is declared of a table beside its columns; none where it can't be. */
    default List<DeclarationQuery> declarations(Connection connection) throws SQLException {
        return List.of();
    }

    /** How a table is divided; empty where it is not, or that is not told. */
    default Optional<Partitioning> partitioning(Connection connection, TableName table) throws SQLException {
        return Optional.empty();
    }

    /** What the place is, where it is not what its driver says. */
    default Optional<String> product() {
        return Optional.empty();
    }

    /** The table that the address alone means; see {@code Place.soleTable}. */
    default Optional<TableName> soleTable() {
        return Optional.empty();
    }
}
