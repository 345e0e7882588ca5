package sharptally.engines.postgresql;

import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.Optional;
import java.util.Properties;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.Secret;
import sharptally.engines.jdbc.Connector;
import sharptally.engines.jdbc.Rows;
import sharptally.engines.jdbc.ServerAddress;

/** Connects with settings under which every value has just one text; the driver itself reads {@code .pgpass}. */
final class PgConnector implements Connector {
    @Override
    public Optional<Connection> connectBeside(PlaceAccess place, Connection other) throws SQLException {
        String state = Rows.read(other, "SELECT pg_export_snapshot()", row -> row.getString(1))
                .get(0);
        Connection connection = connect(place, Access.READ_ONLY);
        try (Statement statement = connection.createStatement()) {
            statement.execute("SET TRANSACTION SNAPSHOT '" + state.replace("'", "''") + "'");
            return Optional.of(connection);
        } catch (SQLException e) {
            connection.close();
            throw e;
        }
    }

    @Override
    public Connection connect(PlaceAccess place, Access access) throws SQLException {
        ServerAddress server = ServerAddress.of(place.address());
        Properties properties = new Properties();
        properties.setProperty("connectTimeout", "15");
        properties.setProperty("tcpKeepAlive", "true");
        properties.setProperty("ApplicationName", "sharp-tally");
        // So that text goes into a column of any type as it would from a literal.
        properties.setProperty("stringtype", "unspecified");
        place.properties().forEach(properties::setProperty);
        properties.remove(PgCopy.PROPERTY);
        place.user().or(server::user).ifPresent(user -> properties.setProperty("user", user));
        place.password().map(Secret::reveal).ifPresent(password -> properties.setProperty("password", password));
        Connection connection = DriverManager.getConnection(
                "jdbc:postgresql://" + server.hostAndPort() + "/" + server.database(), properties);
        try (Statement statement = connection.createStatement()) {
            long timeout =
                    place.statementTimeout().map(t -> Math.max(1, t.toMillis())).orElse(0L);
            // In one message, as each costs the time to the server and back. Ranges are too short for compiled queries.
            statement.execute("SET timezone = 'UTC'; SET datestyle = 'ISO, YMD'; SET intervalstyle = 'postgres';"
                    + " SET extra_float_digits = 3; SET lc_monetary = 'C'; SET statement_timeout = " + timeout
                    + "; SELECT set_config('jit', 'off', false) FROM pg_settings WHERE name = 'jit'");
            if (access == Access.READ_ONLY) {
                connection.setReadOnly(true);
                connection.setTransactionIsolation(Connection.TRANSACTION_REPEATABLE_READ);
            } else {
                statement.execute("SET lock_timeout = '30s'");
            }
            if ("off".equals(place.properties().get(PgCopy.PROPERTY))) {
                connection.setClientInfo("ApplicationName", PgCopy.NAME_WITHOUT);
            }
            connection.setAutoCommit(false);
            return connection;
        } catch (SQLException e) {
            connection.close();
            throw e;
        }
    }
}
