package sharptally.engines.postgresql;

import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import java.util.Optional;
import java.util.Properties;
import java.util.logging.Level;
import java.util.logging.Logger;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.Secret;
import sharptally.core.place.Tls;
import sharptally.engines.jdbc.Rows;
import sharptally.engines.jdbc.connect.Connector;
import sharptally.engines.jdbc.connect.OwnDriver;
import sharptally.engines.jdbc.connect.ServerAddress;
import sharptally.engines.jdbc.connect.Silence;
import sharptally.engines.jdbc.connect.TlsChoice;

/** Connects with settings under which every value has just one text; the driver itself reads {@code .pgpass}. */
final class PgConnector implements Connector {
    /** What the driver would log is told by the exceptions that it throws; held, as the level goes with the logger. */
    private static final Logger SILENT = Logger.getLogger("org.postgresql");

    static {
        SILENT.setLevel(Level.OFF);
    }

    private static final Path OWN_AUTHORITIES = Path.of(System.getProperty("user.home"), ".postgresql", "root.crt");

    @Override
    public boolean keepsOneState() {
        return true;
    }

    @Override
    public Optional<String> sharing(Connection other) throws SQLException {
        String state = Rows.read(other, "SELECT pg_export_snapshot()", row -> row.getString(1))
                .get(0);
        return Optional.of("SET TRANSACTION SNAPSHOT '" + state.replace("'", "''") + "'");
    }

    @Override
    public List<String> restoring(Connection connection) throws SQLException {
        return Rows.read(
                connection,
                "SELECT format('SELECT set_config(%L, %L, false)', name, current_setting(name)) FROM pg_settings"
                        + " WHERE name IN ('TimeZone', 'DateStyle', 'IntervalStyle', 'extra_float_digits', 'lc_monetary',"
                        + " 'statement_timeout', 'lock_timeout', 'jit', 'row_security', 'application_name')",
                row -> row.getString(1));
    }

    private static void tls(PlaceAccess place, ServerAddress server, Properties properties) {
        Tls tls = place.tls();
        TlsChoice.of(place, server.host(), "sslmode").ifPresent(mode -> {
            properties.setProperty(
                    "sslmode",
                    switch (mode) {
                        case VERIFY -> "verify-full";
                        case REQUIRE -> "require";
                        case OFF -> "disable";
                    });
            // The driver's own way knows one file alone, in the user's home.
            boolean own = tls.authority().isPresent() || Files.exists(OWN_AUTHORITIES);
            if (mode == Tls.Mode.VERIFY && !own && tls.certificate().isEmpty()) {
                properties.setProperty("sslfactory", "org.postgresql.ssl.DefaultJavaSSLFactory");
            }
        });
        tls.authority().ifPresent(file -> properties.setProperty("sslrootcert", file));
        tls.certificate().ifPresent(file -> properties.setProperty("sslcert", file));
        tls.key().or(tls::certificate).ifPresent(file -> properties.setProperty("sslkey", file));
        tls.password().ifPresent(password -> properties.setProperty("sslpassword", password.reveal()));
    }

    @Override
    public Connection connect(PlaceAccess place, Access access) throws SQLException {
        ServerAddress server = ServerAddress.of(place.address());
        Properties properties = new Properties();
        properties.setProperty("connectTimeout", "15");
        properties.setProperty("loginTimeout", Long.toString(Silence.LOGIN.toSeconds()));
        properties.setProperty(
                "socketTimeout", Long.toString(Silence.answer(place).toSeconds()));
        properties.setProperty("tcpKeepAlive", "true");
        properties.setProperty("ApplicationName", "sharp-tally");
        // So that text goes into a column of any type as it would from a literal.
        properties.setProperty("stringtype", "unspecified");
        tls(place, server, properties);
        place.properties().forEach(properties::setProperty);
        properties.remove(PgCopy.PROPERTY);
        place.user().or(server::user).ifPresent(user -> properties.setProperty("user", user));
        place.password().map(Secret::reveal).ifPresent(password -> properties.setProperty("password", password));
        Connection connection = OwnDriver.connect(
                new org.postgresql.Driver(),
                "jdbc:postgresql://" + server.hostAndPort() + "/" + server.database(),
                properties);
        try {
            prepare(connection, place, access);
            return connection;
        } catch (SQLException e) {
            connection.close();
            throw e;
        }
    }

    @Override
    public void prepare(Connection connection, PlaceAccess place, Access access) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            long timeout = place.session()
                    .statementTimeout()
                    .map(t -> Math.max(1, t.toMillis()))
                    .orElse(0L);
            // In one message, as each costs the time to the server and back. Ranges are too short for compiled queries;
            // and
            // a query that policies would hide rows from fails instead.
            statement.execute("SET timezone = 'UTC'; SET datestyle = 'ISO, YMD'; SET intervalstyle = 'postgres';"
                    + " SET extra_float_digits = 3; SET lc_monetary = 'C'; SET statement_timeout = "
                    + timeout
                    + "; SELECT set_config(name, 'off', false) FROM pg_settings WHERE name IN ('jit', 'row_security')");
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
        }
    }
}
