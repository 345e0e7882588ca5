package sharptally.engines.sqlserver;

import com.microsoft.sqlserver.jdbc.SQLServerDriver;
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
import sharptally.engines.jdbc.Rows;
import sharptally.engines.jdbc.connect.Connector;
import sharptally.engines.jdbc.connect.OwnDriver;
import sharptally.engines.jdbc.connect.ServerAddress;
import sharptally.engines.jdbc.connect.Silence;
import sharptally.engines.jdbc.connect.TlsChoice;

/**
 * Connects to {@code //user@host:port/database}. The server knows no transactions that only read; where the database allows it,
 * each transaction of a reader sees one state, else what was committed when a row is read.
 */
final class SqlServerConnector implements Connector {
    private static final String SNAPSHOTS =
            "SELECT snapshot_isolation_state FROM sys.databases WHERE database_id = DB_ID()";

    @Override
    public boolean keepsOneState() {
        return false;
    }

    @Override
    public Set<TimeLimits.Kept> keeps() {
        return EnumSet.of(TimeLimits.Kept.STATEMENT, TimeLimits.Kept.LOCK);
    }

    @Override
    public Optional<String> sharing(Connection other) {
        return Optional.empty();
    }

    @Override
    public List<String> restoring(Connection connection) throws SQLException {
        return Rows.read(
                        connection,
                        "SELECT lock_timeout, CASE transaction_isolation_level WHEN 1 THEN 'READ UNCOMMITTED'"
                                + " WHEN 3 THEN 'REPEATABLE READ' WHEN 4 THEN 'SERIALIZABLE' WHEN 5 THEN 'SNAPSHOT'"
                                + " ELSE 'READ COMMITTED' END FROM sys.dm_exec_sessions WHERE session_id = @@SPID",
                        row -> List.of(
                                "SET LOCK_TIMEOUT " + row.getLong(1),
                                "SET TRANSACTION ISOLATION LEVEL " + row.getString(2),
                                "SET XACT_ABORT OFF"))
                .get(0);
    }

    @Override
    public Connection prepare(Connection connection, PlaceAccess place, Access access) throws SQLException {
        TimeLimits limits = place.session().limits();
        long wait = limits.lock()
                .orElse(access == Access.READ_ONLY ? TimeLimits.READER_WAITS : TimeLimits.WRITER_WAITS)
                .toMillis();
        boolean snapshot = access == Access.READ_ONLY
                && Rows.read(connection, SNAPSHOTS, row -> row.getInt(1)).contains(1);
        // Where a guard looks for rows, nobody may add some then.
        String level = access == Access.READ_WRITE ? "SERIALIZABLE" : snapshot ? "SNAPSHOT" : "READ COMMITTED";
        try (Statement statement = connection.createStatement()) {
            statement.execute("SET LOCK_TIMEOUT " + Math.max(1, wait));
            statement.execute("SET TRANSACTION ISOLATION LEVEL " + level);
            statement.execute("SET XACT_ABORT " + (access == Access.READ_WRITE ? "ON" : "OFF"));
        }
        connection.setReadOnly(access == Access.READ_ONLY);
        connection.setAutoCommit(false);
        return connection;
    }

    @Override
    public Connection connect(PlaceAccess place, Access access) throws SQLException {
        ServerAddress server = ServerAddress.of(place.address());
        Properties properties = new Properties();
        properties.setProperty("databaseName", server.database());
        properties.setProperty("applicationName", "sharp-tally");
        properties.setProperty("loginTimeout", Long.toString(Silence.LOGIN.toSeconds()));
        properties.setProperty(
                "socketTimeout", Long.toString(Silence.answer(place).toMillis()));
        place.session()
                .limits()
                .statement()
                .ifPresent(longest ->
                        properties.setProperty("queryTimeout", Long.toString(Math.max(1, longest.toSeconds()))));
        tls(place, server, properties);
        place.properties().forEach(properties::setProperty);
        place.user().or(server::user).ifPresent(user -> properties.setProperty("user", user));
        place.password().map(Secret::reveal).ifPresent(password -> properties.setProperty("password", password));
        Connection connection =
                OwnDriver.connect(new SQLServerDriver(), "jdbc:sqlserver://" + server.hostAndPort(), properties);
        try {
            return prepare(connection, place, access);
        } catch (SQLException e) {
            connection.close();
            throw e;
        }
    }

    private static void tls(PlaceAccess place, ServerAddress server, Properties properties) {
        Tls tls = place.tls();
        TlsChoice.of(place, server.host(), "encrypt").ifPresent(mode -> {
            properties.setProperty("encrypt", Boolean.toString(mode != Tls.Mode.OFF));
            properties.setProperty("trustServerCertificate", Boolean.toString(mode != Tls.Mode.VERIFY));
        });
        tls.authority().ifPresent(file -> properties.setProperty("serverCertificate", file));
        tls.certificate().ifPresent(file -> properties.setProperty("clientCertificate", file));
        tls.password().ifPresent(password -> properties.setProperty("clientKeyPassword", password.reveal()));
    }
}
