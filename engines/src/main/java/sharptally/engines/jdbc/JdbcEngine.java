package sharptally.engines.jdbc;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Engine;
import sharptally.core.place.Place;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.part.ChangeSession;
import sharptally.core.place.part.Changes;
import sharptally.core.sql.SqlDialect;
import sharptally.core.sql.SqlTerms;
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
        Optional<Hashing> hashing,
        Optional<Joining> joining,
        SqlTerms terms,
        Optional<Writing> writing)
        implements Engine {
    /**
     * How rows are changed, where the engine lets us.
     *
     * @param binding how values are handed over apart from statements
     */
    public record Writing(Binding binding, SqlDialect dialect) {}

    @Override
    public Place open(PlaceAccess access) {
        checkLimits(access);
        try {
            Connection connection = connector.connect(access, Connector.Access.READ_ONLY);
            return new JdbcPlace(fitting(connection), access, connection, false);
        } catch (SQLException e) {
            throw Failures.wrap(
                    ErrorKind.CONNECT, "can't open the database", access.label().toString(), e);
        }
    }

    /** The same engine, connected in another way. */
    public JdbcEngine over(Connector other) {
        return new JdbcEngine(name, other, catalogue, reading, totalling, hashing, joining, terms, writing);
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
                    hashing.isPresent() ? Optional.of(hashing.get().fitting(connection)) : hashing,
                    joining,
                    terms,
                    writing);
        } catch (SQLException e) {
            connection.close();
            throw e;
        }
    }

    @Override
    public Optional<Changes> changes() {
        return writing.map(how -> new Changes() {
            @Override
            public ChangeSession open(PlaceAccess access) {
                return openForChanges(how, access);
            }

            @Override
            public SqlDialect dialect() {
                return how.dialect();
            }
        });
    }

    /** A limit that nobody keeps must not seem to be one. */
    private void checkLimits(PlaceAccess access) {
        List<String> beyond = access.session().limits().beyond(connector.keeps());
        if (!beyond.isEmpty()) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "this engine keeps no such limit: " + String.join(", ", beyond),
                    access.label().withoutTable().toString(),
                    "leave it out");
        }
    }

    private ChangeSession openForChanges(Writing how, PlaceAccess access) {
        checkLimits(access);
        try {
            return new JdbcChangeSession(how, access.label(), connector.connect(access, Connector.Access.READ_WRITE));
        } catch (SQLException e) {
            throw Failures.wrap(
                    ErrorKind.CONNECT,
                    "can't open the database for changes",
                    access.label().toString(),
                    e);
        }
    }
}
