package sharptally.engines.jdbc;

import java.sql.Connection;
import java.sql.SQLException;
import sharptally.core.fault.ErrorKind;
import sharptally.core.place.ChangeSession;
import sharptally.core.place.Engine;
import sharptally.core.place.Place;
import sharptally.core.place.PlaceAccess;
import sharptally.core.sql.SqlDialect;
import sharptally.engines.jdbc.catalogue.Catalogue;
import sharptally.engines.jdbc.connect.Connector;
import sharptally.engines.jdbc.join.Joining;
import sharptally.engines.jdbc.sums.Hashing;
import sharptally.engines.jdbc.sums.Totalling;

/** An engine that is spoken to through a JDBC driver, put together from its parts. */
public record JdbcEngine(
        String name,
        Connector connector,
        Catalogue catalogue,
        Reading reading,
        Totalling totalling,
        Hashing hashing,
        Joining joining,
        Binding binding,
        SqlDialect dialect)
        implements Engine {
    @Override
    public Place open(PlaceAccess access) {
        try {
            Connection connection = connector.connect(access, Connector.Access.READ_ONLY);
            return new JdbcPlace(fitting(connection), access, connection, false);
        } catch (SQLException e) {
            throw Failures.wrap(
                    ErrorKind.CONNECT, "can't open the place", access.label().toString(), e);
        }
    }

    /** The same engine for the place behind a connection, which is closed where it can't be asked. */
    private JdbcEngine fitting(Connection connection) throws SQLException {
        try {
            return new JdbcEngine(
                    name,
                    connector,
                    catalogue,
                    reading,
                    totalling,
                    hashing.fitting(connection),
                    joining,
                    binding,
                    dialect);
        } catch (SQLException e) {
            connection.close();
            throw e;
        }
    }

    @Override
    public ChangeSession openForChanges(PlaceAccess access) {
        try {
            return new JdbcChangeSession(this, access.label(), connector.connect(access, Connector.Access.READ_WRITE));
        } catch (SQLException e) {
            throw Failures.wrap(
                    ErrorKind.CONNECT,
                    "can't open the place for changes",
                    access.label().toString(),
                    e);
        }
    }
}
