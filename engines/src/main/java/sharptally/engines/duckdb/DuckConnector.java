package sharptally.engines.duckdb;

import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import java.util.Optional;
import java.util.Properties;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Address;
import sharptally.core.place.PlaceAccess;
import sharptally.engines.jdbc.Rows;
import sharptally.engines.jdbc.connect.Connector;
import sharptally.engines.jdbc.connect.NativeLibrary;
import sharptally.engines.jdbc.connect.OwnDriver;

/**
 * Opens database files; never makes one. Nothing in them reaches other files or the network, but for the one file that it
 * is compared with.
 */
final class DuckConnector implements Connector {
    @Override
    public boolean keepsOneState() {
        return true;
    }

    /** A file that is open for reading does not change, so that nothing is lost with a transaction. */
    @Override
    public boolean failureEndsTransaction() {
        return true;
    }

    @Override
    public Optional<String> sharing(Connection other) {
        return Optional.empty();
    }

    @Override
    public List<String> restoring(Connection connection) throws SQLException {
        return Rows.read(
                connection, "SELECT current_setting('TimeZone')", row -> "SET TimeZone = '" + row.getString(1) + "'");
    }

    @Override
    public Connection prepare(Connection connection, PlaceAccess place, Access access) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.execute("SET TimeZone = 'UTC'");
        }
        connection.setAutoCommit(false);
        return connection;
    }

    static Path file(Address address) {
        return Path.of(address.location()).toAbsolutePath();
    }

    @Override
    public Connection connect(PlaceAccess place, Access access) throws SQLException {
        Path file = file(place.address());
        if (!Files.isRegularFile(file)) {
            throw new ToolException(
                    ErrorKind.CONNECT, "no such file", place.label() + " (" + file + ")", "check the path");
        }
        NativeLibrary.load("DuckDB", () -> Class.forName("org.duckdb.DuckDBNative"));
        Properties properties = new Properties();
        properties.putAll(place.properties());
        properties.setProperty("duckdb.read_only", Boolean.toString(access == Access.READ_ONLY));
        // Without this, the driver holds a whole result before it hands out the first row.
        properties.setProperty("jdbc_stream_results", "true");
        Connection connection = OwnDriver.connect(new org.duckdb.DuckDBDriver(), "jdbc:duckdb:" + file, properties);
        try (Statement statement = connection.createStatement()) {
            if (mayReachOut(statement)) {
                Optional<Address> beside = place.session()
                        .beside()
                        .filter(other -> other.engine().equals("duckdb") && access == Access.READ_ONLY);
                Confinement.to(
                        statement,
                        place,
                        beside.map(DuckConnector::file)
                                .map(other -> List.of(other.toString(), other + ".wal"))
                                .orElse(List.of()));
            }
            return prepare(connection, place, access);
        } catch (SQLException e) {
            connection.close();
            throw e;
        }
    }

    /** Whether no other connection of ours has turned it off for the same file. */
    private static boolean mayReachOut(Statement statement) throws SQLException {
        try (ResultSet result = statement.executeQuery("SELECT current_setting('enable_external_access')")) {
            return result.next() && result.getBoolean(1);
        }
    }
}
