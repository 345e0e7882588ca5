package sharptally.engines.mariadb;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Properties;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
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

/** Connects with UTC and strict mode; a password that is given nowhere else comes from the client's {@code .my.cnf}. */
final class MariaConnector implements Connector {
    @Override
    public Set<TimeLimits.Kept> keeps() {
        return EnumSet.allOf(TimeLimits.Kept.class);
    }

    @Override
    public boolean keepsOneState() {
        return true;
    }

    @Override
    public Optional<String> sharing(Connection other) {
        return Optional.empty();
    }

    @Override
    public List<String> restoring(Connection connection) throws SQLException {
        MariaServer server = MariaServer.of(connection);
        Stream<String> settings = Stream.of(
                        "lock_wait_timeout", "innodb_lock_wait_timeout", server.readOnly(), server.longest())
                .filter(name -> server.endsStatements() || !name.equals(server.longest()));
        return Rows.read(
                connection,
                "SELECT CONCAT('SET SESSION time_zone = ', QUOTE(@@time_zone), ', sql_mode = ', QUOTE(@@sql_mode)"
                        + settings.map(name -> ", ', " + name + " = ', @@" + name)
                                .collect(Collectors.joining())
                        + ")",
                row -> row.getString(1));
    }

    @Override
    public Connection connect(PlaceAccess place, Access access) throws SQLException {
        ServerAddress server = ServerAddress.of(place.address());
        Properties properties = new Properties();
        properties.setProperty("connectTimeout", Long.toString(Silence.LOGIN.toMillis()));
        properties.setProperty(
                "socketTimeout", Long.toString(Silence.answer(place).toMillis()));
        properties.setProperty("tcpKeepAlive", "true");
        properties.setProperty("connectionAttributes", "program_name:sharp-tally");
        // Values come in binary then: the server need not write numbers as text, which takes it half of its time.
        properties.setProperty("useServerPrepStmts", "true");
        // BIT(1) and TINYINT(1) are numbers until we say otherwise; dates are read as text.
        properties.setProperty("tinyInt1isBit", "false");
        properties.setProperty("transformedBitIsBoolean", "false");
        tls(place, server, properties);
        place.properties().forEach(properties::setProperty);
        place.user().or(server::user).ifPresent(user -> properties.setProperty("user", user));
        place.password()
                .map(Secret::reveal)
                .or(MariaConnector::ofOptionFile)
                .ifPresent(password -> properties.setProperty("password", password));
        Connection connection = OwnDriver.connect(
                new org.mariadb.jdbc.Driver(),
                "jdbc:mariadb://" + server.hostAndPort() + "/" + server.database(),
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
        MariaServer server = MariaServer.of(connection);
        if (!server.isSupported()) {
            throw new SQLException(server.product() + " before 5.6.5 (MariaDB: 10.2.6) can't promise only to read");
        }
        try (Statement statement = connection.createStatement()) {
            statement.execute("SET time_zone = '+00:00'");
            // Invalid dates that stand in a table are read, and are distinct from others, only where they are allowed.
            String allowed = access == Access.READ_ONLY ? ",ALLOW_INVALID_DATES" : "";
            statement.execute("SET SESSION sql_mode = '" + MariaDialect.SQL_MODE + allowed + "'");
            TimeLimits limits = place.session().limits();
            if (limits.statement().isPresent()) {
                limit(statement, server, limits.statement().get());
            }
            long wait = Math.max(
                    1,
                    limits.lock()
                            .orElse(access == Access.READ_ONLY ? TimeLimits.READER_WAITS : TimeLimits.WRITER_WAITS)
                            .toSeconds());
            // The first waits for those who change the table itself.
            statement.execute("SET SESSION lock_wait_timeout = " + wait + ", innodb_lock_wait_timeout = " + wait);
            connection.setAutoCommit(false);
            if (access == Access.READ_ONLY) {
                connection.setTransactionIsolation(Connection.TRANSACTION_REPEATABLE_READ);
                statement.execute("SET SESSION TRANSACTION READ ONLY");
                if (place.session().snapshot()) {
                    statement.execute("START TRANSACTION WITH CONSISTENT SNAPSHOT, READ ONLY");
                }
            } else {
                // Where a guard looks for rows, nobody may add some then.
                connection.setTransactionIsolation(Connection.TRANSACTION_REPEATABLE_READ);
            }
        }
        checkSession(connection);
        return connection;
    }

    /** Whether a connection's session is not the one that greeted it. */
    static boolean isPooled(Connection connection, long session) throws SQLException {
        return connection.isWrapperFor(org.mariadb.jdbc.Connection.class)
                && connection.unwrap(org.mariadb.jdbc.Connection.class).getThreadId() != session;
    }

    /** Where a pooler or proxy stands between, another session may answer, with other settings. */
    private static void checkSession(Connection connection) throws SQLException {
        boolean lost = Rows.read(
                        connection,
                        "SELECT CONNECTION_ID(), @@time_zone, @@sql_mode",
                        row -> isPooled(connection, row.getLong(1))
                                && !(row.getString(2).equals("+00:00")
                                        && row.getString(3).contains("STRICT_ALL_TABLES")))
                .get(0);
        if (lost) {
            throw new SQLException("a pooler or proxy between gives each statement to another session, so that nothing"
                    + " that is set would hold: connect to the server itself");
        }
    }

    private static void limit(Statement statement, MariaServer server, Duration longest) throws SQLException {
        if (!server.endsStatements()) {
            throw new SQLException("MySQL before 5.7.8 ends no statement by itself: leave statement-timeout out");
        }
        long millis = Math.max(1, longest.toMillis());
        statement.execute("SET SESSION " + server.longest() + " = " + (server.mariaDb() ? millis / 1000.0 : millis));
    }

    private static void tls(PlaceAccess place, ServerAddress server, Properties properties) {
        Tls tls = place.tls();
        TlsChoice.of(place, server.host(), "sslMode")
                .ifPresent(mode -> properties.setProperty(
                        "sslMode",
                        switch (mode) {
                            case VERIFY -> "verify-full";
                            case REQUIRE -> "trust";
                            case OFF -> "disable";
                        }));
        tls.authority().ifPresent(file -> properties.setProperty("serverSslCert", file));
        tls.certificate().ifPresent(file -> properties.setProperty("keyStore", file));
        tls.password().ifPresent(password -> properties.setProperty("keyStorePassword", password.reveal()));
    }

    /** The password of section {@code [client]} in the user's option file. */
    private static Optional<String> ofOptionFile() {
        Path file = Path.of(System.getProperty("user.home"), ".my.cnf");
        if (!Files.isReadable(file)) {
            return Optional.empty();
        }
        try {
            String section = "";
            for (String line : Files.readAllLines(file)) {
                String text = line.strip();
                if (text.startsWith("[")) {
                    section = text;
                } else if (section.equals("[client]") && text.matches("password\\s*=.*")) {
                    return Optional.of(
                            text.substring(text.indexOf('=') + 1).strip().replaceAll("^([\"'])(.*)\\1$", "$2"));
                }
            }
        } catch (IOException e) {
            return Optional.empty();
        }
        return Optional.empty();
    }
}
