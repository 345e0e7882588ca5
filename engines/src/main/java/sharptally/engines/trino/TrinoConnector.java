package sharptally.engines.trino;

import io.trino.jdbc.TrinoDriver;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Properties;
import java.util.Set;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.Secret;
import sharptally.core.place.TimeLimits;
import sharptally.core.place.Tls;
import sharptally.engines.jdbc.connect.Connector;
import sharptally.engines.jdbc.connect.OwnDriver;
import sharptally.engines.jdbc.connect.ServerAddress;
import sharptally.engines.jdbc.connect.TlsChoice;

/**
 * Connects to {@code //user@host:port/catalogue/schema}. A reading connection is in transactions that only read, each of one
 * statement, as a server gives up those that wait.
 */
final class TrinoConnector implements Connector {
    @Override
    public boolean keepsOneState() {
        return false;
    }

    @Override
    public Set<TimeLimits.Kept> keeps() {
        return EnumSet.of(TimeLimits.Kept.STATEMENT);
    }

    @Override
    public boolean failureEndsTransaction() {
        return true;
    }

    @Override
    public Optional<String> sharing(Connection other) {
        return Optional.empty();
    }

    @Override
    public List<String> restoring(Connection connection) {
        return List.of("SET TIME ZONE LOCAL");
    }

    @Override
    public Connection prepare(Connection connection, PlaceAccess place, Access access) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.execute("SET TIME ZONE 'UTC'");
            if (place.session().limits().statement().isPresent()) {
                statement.execute("SET SESSION query_max_run_time = '"
                        + Math.max(1, place.session().limits().statement().get().toMillis()) + "ms'");
            }
        }
        connection.setReadOnly(access == Access.READ_ONLY);
        // Most of what can be written to takes no transaction.
        connection.setAutoCommit(access == Access.READ_WRITE);
        return connection;
    }

    @Override
    public Connection connect(PlaceAccess place, Access access) throws SQLException {
        ServerAddress server = ServerAddress.of(place.address());
        Properties properties = new Properties();
        properties.setProperty("source", "sharp-tally");
        tls(place, server, properties);
        place.properties().forEach(properties::setProperty);
        properties.setProperty("user", place.user().or(server::user).orElse(System.getProperty("user.name")));
        place.password().map(Secret::reveal).ifPresent(password -> properties.setProperty("password", password));
        TrinoDriver driver = new TrinoDriver();
        Connection connection =
                OwnDriver.connect(driver, "jdbc:trino://" + server.hostAndPort() + "/" + server.database(), properties);
        try {
            return FreshTransactions.of(prepare(connection, place, access), driver);
        } catch (SQLException e) {
            connection.close();
            driver.close();
            throw e;
        }
    }

    private static void tls(PlaceAccess place, ServerAddress server, Properties properties) {
        Tls tls = place.tls();
        TlsChoice.of(place, server.host(), "SSL").ifPresent(mode -> {
            properties.setProperty("SSL", Boolean.toString(mode != Tls.Mode.OFF));
            if (mode == Tls.Mode.REQUIRE) {
                properties.setProperty("SSLVerification", "NONE");
            }
        });
        tls.authority().ifPresent(file -> properties.setProperty("SSLTrustStorePath", file));
        tls.certificate().ifPresent(file -> properties.setProperty("SSLKeyStorePath", file));
        tls.password().ifPresent(password -> properties.setProperty("SSLKeyStorePassword", password.reveal()));
    }
}
