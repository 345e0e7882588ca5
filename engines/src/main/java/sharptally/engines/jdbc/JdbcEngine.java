package sharptally.engines.jdbc;

import java.sql.SQLException;
import sharptally.core.fault.ErrorKind;
import sharptally.core.place.Address;
import sharptally.core.place.ChangeSession;
import sharptally.core.place.Engine;
import sharptally.core.place.Place;
import sharptally.core.sql.SqlDialect;

/** An engine that is spoken to through a JDBC driver, put together from its parts. */
public record JdbcEngine(
        String name, Connector connector, Catalogue catalogue, Reading reading, Binding binding, SqlDialect dialect)
        implements Engine {
    @Override
    public Place open(Address address) {
        try {
            return new JdbcPlace(this, address, connector.connect(address, Connector.Access.READ_ONLY));
        } catch (SQLException e) {
            throw Failures.wrap(ErrorKind.CONNECT, "can't open the place", address.toString(), e);
        }
    }

    @Override
    public ChangeSession openForChanges(Address address) {
        try {
            return new JdbcChangeSession(this, address, connector.connect(address, Connector.Access.READ_WRITE));
        } catch (SQLException e) {
            throw Failures.wrap(ErrorKind.CONNECT, "can't open the place for changes", address.toString(), e);
        }
    }
}
