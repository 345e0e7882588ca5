package sharptally.engines.mariadb;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import java.util.Optional;
import java.util.Properties;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.Secret;
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
    public boolean keepsOneState() {
        return true;
    }

    @Override
    public Optional<String> sharing(Connection other) {
        return Optional.empty();
    }

    @Override
    public List<String> restoring(Connection connection) throws SQLException {
        boolean mariaDb = connection.getMetaData().getDatabaseProductName().contains("MariaDB");
        String longest = mariaDb ? "max_statement_time" : "max_execution_time";
        String readOnly = mariaDb ? "tx_read_only" : "transaction_read_only";
        return Rows.read(
                connection,
                "SELECT CONCAT('SET SESSION time_zone = ', QUOTE(@@time_zone), ', sql_mode = ', QUOTE(@@sql_mode),"
                        + " ', innodb_lock_wait_timeout = ', @@innodb_lock_wait_timeout, ', " + longest + " = ', @@"
                        + longest + ", ', " + readOnly + " = ', @@" + readOnly + ")",
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
            statement.execute("SET time_zone = '+00:00'");
            // Invalid dates that stand in a table are read, and are distinct from others, only where they are allowed.
            String allowed = access == Access.READ_ONLY ? ",ALLOW_INVALID_DATES" : "";
            statement.execute("SET SESSION sql_mode = '" + MariaDialect.SQL_MODE + allowed + "'");
            boolean mariaDb = connection.getMetaData().getDatabaseProductName().contains("MariaDB");
            if (place.session().statementTimeout().isPresent()) {
                long millis =
                        Math.max(1, place.session().statementTimeout().get().toMillis());
                statement.execute(
                        mariaDb
                                ? "SET SESSION max_statement_time = " + millis / 1000.0
                                : "SET SESSION max_execution_time = " + millis);
            }
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
                statement.execute("SET SESSION innodb_lock_wait_timeout = 30");
            }
        }
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
