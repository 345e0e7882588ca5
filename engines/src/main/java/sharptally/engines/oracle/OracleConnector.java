package sharptally.engines.oracle;

import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import java.util.Optional;
import java.util.Properties;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.Secret;
import sharptally.core.place.Tls;
import sharptally.engines.jdbc.connect.Connector;
import sharptally.engines.jdbc.connect.Drivers;
import sharptally.engines.jdbc.connect.OwnDriver;
import sharptally.engines.jdbc.connect.ServerAddress;
import sharptally.engines.jdbc.connect.Silence;
import sharptally.engines.jdbc.connect.TlsChoice;

/**
 * Connects to {@code //user@host:port/service} by a driver that the user brings. A reader is in a transaction that only reads, and sees
 * one state from its begin to its end; if that is older than what the server keeps, it is told.
 */
final class OracleConnector implements Connector {
    @Override
    public boolean keepsOneState() {
        return true;
    }

    @Override
    public Optional<String> sharing(Connection other) {
        return Optional.empty();
    }

    @Override
    public List<String> restoring(Connection connection) {
        return List.of("ALTER SESSION SET TIME_ZONE = LOCAL");
    }

    @Override
    public Connection prepare(Connection connection, PlaceAccess place, Access access) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.execute("ALTER SESSION SET NLS_NUMERIC_CHARACTERS = '.,'");
            statement.execute("ALTER SESSION SET NLS_COMP = BINARY");
            statement.execute("ALTER SESSION SET NLS_SORT = BINARY");
            statement.execute("ALTER SESSION SET TIME_ZONE = '+00:00'");
            connection.setAutoCommit(false);
            if (access == Access.READ_ONLY) {
                statement.execute("SET TRANSACTION READ ONLY");
            }
        }
        return connection;
    }

    @Override
    public Connection connect(PlaceAccess place, Access access) throws SQLException {
        ServerAddress server = ServerAddress.of(place.address());
        Properties properties = new Properties();
        properties.setProperty("v$session.program", "sharp-tally");
        properties.setProperty("oracle.net.CONNECT_TIMEOUT", Long.toString(Silence.LOGIN.toMillis()));
        properties.setProperty(
                "oracle.jdbc.ReadTimeout", Long.toString(Silence.answer(place).toMillis()));
        boolean encrypted = TlsChoice.of(place, server.host(), "oracle.net.ssl_server_dn_match")
                .filter(mode -> mode != Tls.Mode.OFF)
                .isPresent();
        properties.setProperty(
                "oracle.net.ssl_server_dn_match",
                Boolean.toString(!place.tls().mode().equals(Optional.of(Tls.Mode.REQUIRE))));
        place.tls().authority().ifPresent(file -> properties.setProperty("javax.net.ssl.trustStore", file));
        place.tls().certificate().ifPresent(file -> properties.setProperty("javax.net.ssl.keyStore", file));
        place.tls()
                .password()
                .ifPresent(password -> properties.setProperty("javax.net.ssl.keyStorePassword", password.reveal()));
        place.properties().forEach(properties::setProperty);
        place.user().or(server::user).ifPresent(user -> properties.setProperty("user", user));
        place.password().map(Secret::reveal).ifPresent(password -> properties.setProperty("password", password));
        String url = "jdbc:oracle:thin:@" + (encrypted ? "tcps:" : "") + "//" + server.hostAndPort() + "/"
                + server.database();
        Connection connection = OwnDriver.connect(Drivers.of(url, place.label()), url, properties);
        try {
            return prepare(connection, place, access);
        } catch (SQLException e) {
            connection.close();
            throw e;
        }
    }
}
