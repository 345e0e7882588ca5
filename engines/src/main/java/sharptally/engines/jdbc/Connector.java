package sharptally.engines.jdbc;

import java.sql.Connection;
import java.sql.SQLException;
import sharptally.core.place.Address;

/** Opens connections to places of one engine. Immutable. */
public interface Connector {
    /** Whether a connection may write. */
    enum Access {
        READ_ONLY,
        READ_WRITE
    }

    /**
     * A connection with auto-commit off; a read-only one has told so to the database.
     *
     * @throws sharptally.core.fault.ToolException when what the address names is visibly not there or not a database
     */
    Connection connect(Address address, Access access) throws SQLException;
}
