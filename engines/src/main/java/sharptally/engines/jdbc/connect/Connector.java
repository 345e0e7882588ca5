package sharptally.engines.jdbc.connect;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.Optional;
import sharptally.core.place.PlaceAccess;

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
     * A further read-only connection that sees the state of the database that another one sees; empty where the engine
     * can't share one between connections.
     */
    Optional<Connection> connectBeside(PlaceAccess place, Connection other) throws SQLException;
}
