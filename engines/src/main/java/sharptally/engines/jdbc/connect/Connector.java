package sharptally.engines.jdbc.connect;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.TimeLimits;

/** Opens connections to places of one engine. Immutable. */
public interface Connector {
    /** Whether a connection may write. */
    enum Access {
        READ_ONLY,
        READ_WRITE
    }

    /**
     * A connection with auto-commit off; a read-only one has told so to the database, and sees one consistent state of
     * it where the engine can do that.
     *
     * @throws sharptally.core.fault.ToolException when what the address names is visibly not there or not a database
     */
    Connection connect(PlaceAccess place, Access access) throws SQLException;

    /**
     * Makes a connection, with auto-commit on, what {@link #connect} hands out. Whatever is set in its session is named by
     * {@link #restoring}.
     *
     * @return the one to be used; another one where sessions may be others' as well, in which nothing was set then
     */
    Connection prepare(Connection connection, PlaceAccess place, Access access) throws SQLException;

    /** Statements that give a session back what it has now of all that {@link #prepare} sets in it. */
    List<String> restoring(Connection connection) throws SQLException;

    /** The limits that a connection of its keeps. */
    default Set<TimeLimits.Kept> keeps() {
        return Set.of();
    }

    /** Whether a transaction of a read-only connection surely sees one state of the database from its begin to its end. */
    boolean keepsOneState();

    /** Whether a statement that fails leaves a transaction in which nothing more can be read, so that it is to be ended. */
    default boolean failureEndsTransaction() {
        return false;
    }

    /**
     * The statement by which a further read-only connection comes to see the state of the database that another one
     * sees; empty where the engine can't share one between connections.
     */
    Optional<String> sharing(Connection other) throws SQLException;

    /**
     * What is done whenever rows were read to their end.
     *
     * @throws sharptally.core.fault.ToolException when they were not of one state, although {@link #keepsOneState}
     */
    default void afterReading() {}

    /** Gives up what is kept for connections to come; those that are open live on. */
    default void end() throws SQLException {}
}
