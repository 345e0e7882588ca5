package sharptally.engines.duckdb;

import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.Optional;
import java.util.Properties;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.PlaceAccess;
import sharptally.engines.jdbc.Connector;

/** Opens database files; never makes one. */
final class DuckConnector implements Connector {
    @Override
    public Optional<Connection> connectBeside(PlaceAccess place, Connection other) {
        return Optional.empty();
    }

    @Override
    public Connection connect(PlaceAccess place, Access access) throws SQLException {
        Path file = Path.of(place.address().location()).toAbsolutePath();
        if (!Files.isRegularFile(file)) {
            throw new ToolException(
                    ErrorKind.CONNECT, "no such file", place.label().toString(), "check the path");
        }
        Properties properties = new Properties();
        properties.putAll(place.properties());
        properties.setProperty("duckdb.read_only", Boolean.toString(access == Access.READ_ONLY));
        // Without this, the driver holds a whole result before it hands out the first row.
        properties.setProperty("jdbc_stream_results", "true");
        Connection connection = DriverManager.getConnection("jdbc:duckdb:" + file, properties);
        try (Statement statement = connection.createStatement()) {
            statement.execute("SET TimeZone = 'UTC'");
            statement.execute("SET memory_limit = '200MB'");
            statement.execute("SET temp_directory = '"
                    + System.getProperty("java.io.tmpdir").replace("'", "''") + "/sharp-tally-duckdb'");
            connection.setAutoCommit(false);
            return connection;
        } catch (SQLException e) {
            connection.close();
            throw e;
        }
    }
}
