package sharptally.engines.duckdb;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Properties;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.Stream;
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
    public void prepare(Connection connection, PlaceAccess place, Access access) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.execute("SET TimeZone = 'UTC'");
        }
        connection.setAutoCommit(false);
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
                statement.execute("SET memory_limit = '200MB'");
                String spill = place.session()
                        .temporary()
                        .map(Spill::within)
                        .map(folder -> folder.toString().replace("'", "''"))
                        .orElse("");
                statement.execute("SET temp_directory = '" + spill + "'");
                // A view may name files, servers and extensions. What is turned off here stays off for as long as the
                // file is open, in all connections to it; the whole configuration is not locked, as each of them needs
                // its time zone.
                statement.execute("SET autoinstall_known_extensions = false");
                statement.execute("SET autoload_known_extensions = false");
                Optional<Address> beside =
                        place.session().beside().filter(other -> other.engine().equals("duckdb"));
                if (beside.isPresent() && access == Access.READ_ONLY) {
                    String other = file(beside.get()).toString().replace("'", "''");
                    statement.execute("SET allowed_paths = ['" + other + "', '" + other + ".wal']");
                }
                statement.execute("SET enable_external_access = false");
            }
            prepare(connection, place, access);
            return connection;
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

    /** Where large sorts go: within each temporary folder, one of this process and this user alone, which ends with it. */
    private static final class Spill {
        private static final Map<Path, Path> FOLDERS = new ConcurrentHashMap<>();

        private Spill() {}

        static Path within(Path temporary) {
            return FOLDERS.computeIfAbsent(temporary, Spill::make);
        }

        private static Path make(Path temporary) {
            try {
                Path folder = Files.createTempDirectory(temporary, "sharp-tally-");
                Runtime.getRuntime().addShutdownHook(new Thread(() -> remove(folder)));
                return folder;
            } catch (IOException e) {
                throw new ToolException(
                        ErrorKind.INCOMPLETE,
                        "can't make a temporary folder",
                        temporary + ": " + e.getMessage(),
                        "make room there, or choose another temporary folder",
                        e);
            }
        }

        private static void remove(Path folder) {
            try (Stream<Path> files = Files.walk(folder)) {
                for (Path file : files.sorted(Comparator.reverseOrder()).toList()) {
                    Files.deleteIfExists(file);
                }
            } catch (IOException e) {
                // the process ends; what is left is for the system to clear away
            }
        }
    }
}
