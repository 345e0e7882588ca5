package sharptally.engines.postgresql;

import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Duration;
import java.util.EnumSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Properties;
import java.util.Set;
import java.util.logging.Level;
import java.util.logging.Logger;
import java.util.stream.Collectors;
import org.postgresql.PGConnection;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.Secret;
import sharptally.core.place.TimeLimits;
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

    /** The setting for transactions to come; a transaction has one of its own. */
    private static final String DEFAULT = "default_transaction_isolation";

    @Override
    public Set<TimeLimits.Kept> keeps() {
        return EnumSet.allOf(TimeLimits.Kept.class);
    }

    private static boolean isWithoutCopy(PlaceAccess place) {
        return "off".equals(place.properties().get(PgCopy.PROPERTY));
    }

    private static String millis(Duration time) {
        return Long.toString(time.isZero() ? 0 : Math.max(1, time.toMillis()));
    }

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
        properties.setProperty("ApplicationName", isWithoutCopy(place) ? PgCopy.NAME_WITHOUT : "sharp-tally");
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
            return prepare(connection, place, access);
        } catch (SQLException e) {
            connection.close();
            throw e;
        }
    }

    @Override
    public Connection prepare(Connection connection, PlaceAccess place, Access access) throws SQLException {
        if (isWithoutCopy(place) && !PgCopy.NAME_WITHOUT.equals(connection.getClientInfo("ApplicationName"))) {
            connection.setClientInfo("ApplicationName", PgCopy.NAME_WITHOUT);
        }
        Map<String, String> wanted = settings(place, access);
        // In one message, as each costs the time to the server and back. Where the process that answers is not the one
        // that greeted us, the session is not ours alone: what is set is given up with this very statement.
        String values = wanted.entrySet().stream()
                .map(setting -> "('" + setting.getKey() + "', '" + setting.getValue() + "')")
                .collect(Collectors.joining(", "));
        int greeted = connection.isWrapperFor(PGConnection.class)
                ? connection.unwrap(PGConnection.class).getBackendPID()
                : 0;
        String foreign = greeted == 0 ? "false" : "pg_backend_pid() <> " + greeted;
        List<Taken> set = Rows.read(
                connection,
                "SELECT s.name, pg_backend_pid(), set_config(s.name, wanted.value, " + foreign + ") FROM (VALUES "
                        + values + ") wanted (name, value) JOIN pg_settings s ON lower(s.name) = wanted.name",
                row -> new Taken(row.getString(1), row.getInt(2)));
        connection.setReadOnly(access == Access.READ_ONLY);
        connection.setAutoCommit(false);
        if (greeted == 0 || set.get(0).process() == greeted) {
            return connection;
        }
        connection.unwrap(PGConnection.class).setPrepareThreshold(0);
        return PooledSession.of(
                connection,
                set.stream()
                        .map(one -> "SET LOCAL \"" + one.name().replace(DEFAULT, "transaction_isolation") + "\" = '"
                                + wanted.get(one.name().toLowerCase(Locale.ROOT)) + "'")
                        .toList());
    }

    /** A setting that the server knows, and the process that answered. */
    private record Taken(String name, int process) {}

    /** By their names in lower case. */
    private static Map<String, String> settings(PlaceAccess place, Access access) {
        TimeLimits limits = place.session().limits();
        Map<String, String> settings = new LinkedHashMap<>();
        settings.put("timezone", "UTC");
        settings.put("datestyle", "ISO, YMD");
        settings.put("intervalstyle", "postgres");
        settings.put("extra_float_digits", "3");
        settings.put("lc_monetary", "C");
        settings.put("statement_timeout", millis(limits.statement().orElse(Duration.ZERO)));
        settings.put(
                "lock_timeout",
                millis(limits.lock()
                        .orElse(access == Access.READ_ONLY ? TimeLimits.READER_WAITS : TimeLimits.WRITER_WAITS)));
        // Ranges are too short for compiled queries; and a query that policies would hide rows from fails instead.
        settings.put("jit", "off");
        settings.put("row_security", "off");
        if (access == Access.READ_ONLY) {
            settings.put(DEFAULT, "repeatable read");
        }
        return settings;
    }
}
