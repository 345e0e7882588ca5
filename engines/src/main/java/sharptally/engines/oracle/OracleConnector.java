package sharptally.engines.oracle;

import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Properties;
import java.util.WeakHashMap;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.Secret;
import sharptally.core.place.Tls;
import sharptally.engines.jdbc.Rows;
import sharptally.engines.jdbc.connect.Connector;
import sharptally.engines.jdbc.connect.Drivers;
import sharptally.engines.jdbc.connect.OwnDriver;
import sharptally.engines.jdbc.connect.ServerAddress;
import sharptally.engines.jdbc.connect.Silence;
import sharptally.engines.jdbc.connect.TlsChoice;

/**
 * Connects to {@code //user@host:port/service} by a driver that the user brings. A reader is in a transaction that only reads, and sees
 * one state from its begin to its end; if that is older than what the server keeps, it is told. Readers of one state see that of
 * one number, where the user may look back at all.
 */
final class OracleConnector implements Connector {
    @Override
    public boolean keepsOneState() {
        return true;
    }

    private static final String MAY_LOOK_BACK =
            "SELECT COUNT(*) FROM all_objects WHERE object_type = 'PACKAGE' AND object_name = 'DBMS_FLASHBACK'";

    /** Sessions that look at the state of one number, by that number. */
    private final Map<Connection, String> lookingBack = Collections.synchronizedMap(new WeakHashMap<>());

    @Override
    public Optional<String> sharing(Connection other) {
        return Optional.ofNullable(lookingBack.get(other)).map(OracleConnector::look);
    }

    private static String look(String number) {
        return "BEGIN COMMIT; DBMS_FLASHBACK.DISABLE; DBMS_FLASHBACK.ENABLE_AT_SYSTEM_CHANGE_NUMBER(" + number
                + "); END;";
    }

    private static boolean mayLookBack(Connection connection) throws SQLException {
        return !Rows.read(connection, MAY_LOOK_BACK, row -> row.getInt(1)).contains(0);
    }

    /** What looked back does so no more; who may not look back did not. */
    @Override
    public List<String> restoring(Connection connection) throws SQLException {
        List<String> statements = new ArrayList<>(
                List.of("ALTER SESSION SET TIME_ZONE = LOCAL", "ALTER SESSION SET ISOLATION_LEVEL = READ COMMITTED"));
        if (mayLookBack(connection)) {
            statements.add("BEGIN DBMS_FLASHBACK.DISABLE; END;");
        }
        return statements;
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
                read(connection, statement, place);
            }
        }
        return connection;
    }

    /** Of one number where one state is wanted for as long as it takes; else of each transaction, the first of which only reads. */
    private void read(Connection connection, Statement statement, PlaceAccess place) throws SQLException {
        boolean once = place.session().snapshot()
                && place.session().limits().snapshot().isEmpty()
                && mayLookBack(connection);
        if (once) {
            String number = Rows.read(
                            connection,
                            "SELECT TO_CHAR(DBMS_FLASHBACK.GET_SYSTEM_CHANGE_NUMBER) FROM DUAL",
                            row -> row.getString(1))
                    .get(0);
            statement.execute(look(number));
            lookingBack.put(connection, number);
        } else {
            statement.execute("ALTER SESSION SET ISOLATION_LEVEL = SERIALIZABLE");
            statement.execute("SET TRANSACTION READ ONLY");
        }
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
