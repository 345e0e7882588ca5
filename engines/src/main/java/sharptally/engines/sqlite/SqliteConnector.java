package sharptally.engines.sqlite;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Duration;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.sqlite.Function;
import org.sqlite.SQLiteConfig;
import org.sqlite.SQLiteConnection;
import org.sqlite.SQLiteJDBCLoader;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Address;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.TimeLimits;
import sharptally.core.types.Kind;
import sharptally.engines.jdbc.Rows;
import sharptally.engines.jdbc.connect.Connector;
import sharptally.engines.jdbc.connect.NativeLibrary;

/** Opens database files; never makes one. */
final class SqliteConnector implements Connector {
    private static final byte[] HEADER = "SQLite format 3\0".getBytes(StandardCharsets.US_ASCII);
    private static final Duration BUSY_TIMEOUT = Duration.ofSeconds(5);

    @Override
    public Set<TimeLimits.Kept> keeps() {
        return EnumSet.of(TimeLimits.Kept.LOCK);
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
        return Rows.read(connection, "PRAGMA query_only", row -> "PRAGMA query_only = " + row.getInt(1));
    }

    @Override
    public Connection connect(PlaceAccess place, Access access) throws SQLException {
        Address address = place.address();
        Path file = file(address);
        check(file, address);
        NativeLibrary.load("SQLite", SQLiteJDBCLoader::initialize);
        SQLiteConfig config = new SQLiteConfig();
        config.setReadOnly(access == Access.READ_ONLY);
        config.setBusyTimeout(Math.toIntExact(
                place.session().limits().lock().orElse(BUSY_TIMEOUT).toMillis()));
        // A reader takes its lock with its first row; a writer at once, so that it does not find out too late.
        config.setTransactionMode(
                access == Access.READ_ONLY
                        ? SQLiteConfig.TransactionMode.DEFERRED
                        : SQLiteConfig.TransactionMode.IMMEDIATE);
        Connection connection = config.createConnection("jdbc:sqlite:" + file);
        try {
            return prepare(connection, place, access);
        } catch (SQLException e) {
            connection.close();
            throw e;
        }
    }

    static Path file(Address address) {
        return Path.of(address.location()).toAbsolutePath();
    }

    @Override
    public Connection prepare(Connection connection, PlaceAccess place, Access access) throws SQLException {
        if (access == Access.READ_ONLY) {
            try (var statement = connection.createStatement()) {
                statement.execute("PRAGMA query_only = ON");
            }
        }
        Function.create(connection.unwrap(SQLiteConnection.class), ExactSum.NAME, new ExactSum());
        for (Kind kind : Kind.values()) {
            Optional<TimeForm> form = TimeForm.of(kind);
            if (form.isPresent()) {
                Function.create(
                        connection.unwrap(SQLiteConnection.class), form.get().name(), form.get());
            }
        }
        connection.setAutoCommit(false);
        return connection;
    }

    private static void check(Path file, Address address) {
        if (!Files.isRegularFile(file)) {
            throw new ToolException(
                    ErrorKind.CONNECT, "no such file", address + " (" + file.toAbsolutePath() + ")", "check the path");
        }
        try (InputStream in = Files.newInputStream(file)) {
            byte[] start = in.readNBytes(HEADER.length);
            if (start.length > 0 && !Arrays.equals(start, HEADER)) {
                throw new ToolException(
                        ErrorKind.CONNECT,
                        "not a SQLite database (or an encrypted one)",
                        address.toString(),
                        "check the path and the engine's name");
            }
        } catch (IOException e) {
            throw new ToolException(
                    ErrorKind.CONNECT, "can't read the file", address.toString(), "check the rights on it", e);
        }
    }
}
