package sharptally.engines.any;

import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import java.util.Optional;
import java.util.Properties;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.Secret;
import sharptally.core.place.profile.Profile;
import sharptally.engines.jdbc.connect.Connector;
import sharptally.engines.jdbc.connect.Drivers;
import sharptally.engines.jdbc.connect.OwnDriver;

/** Connects by a JDBC URL, with the driver that takes it. */
final class AnyConnector implements Connector {
    /** Embedded engines would make a file where the path is mistyped, and run what a file holds. */
    private static final Pattern OWN = Pattern.compile("^jdbc:(h2|sqlite|duckdb|postgresql|mariadb|mysql):");

    private static final Pattern LOADS = Pattern.compile(
            "(?i)[?;&](\\w*(?:factory|plugin|class|callback|interceptor|deserialize|listener|init|infile|provider)\\w*)=");

    private final Profile profile;

    AnyConnector(Profile profile) {
        this.profile = profile;
    }

    @Override
    public boolean keepsOneState() {
        return profile.keepsOneState();
    }

    @Override
    public Optional<String> sharing(Connection other) {
        return Optional.empty();
    }

    @Override
    public List<String> restoring(Connection connection) {
        return List.of();
    }

    @Override
    public Connection prepare(Connection connection, PlaceAccess place, Access access) throws SQLException {
        boolean readOnly = access == Access.READ_ONLY;
        Unprepared.look(connection);
        Lacks.asked(connection, "read-only connections", false, () -> {
            connection.setReadOnly(readOnly);
            return true;
        });
        boolean transactions = Lacks.asked(connection, "transactions", false, () -> {
            connection.setAutoCommit(false);
            return true;
        });
        if (!transactions && !readOnly) {
            throw new SQLException("this driver knows no transactions, so that nothing could be taken back");
        }
        try (Statement statement = connection.createStatement()) {
            for (String sql : profile.begin()) {
                statement.execute(sql);
            }
        }
        return connection;
    }

    @Override
    public Connection connect(PlaceAccess place, Access access) throws SQLException {
        String url = "jdbc:" + place.address().location();
        check(url, place);
        Properties properties = new Properties();
        properties.putAll(place.properties());
        place.user().ifPresent(user -> properties.setProperty("user", user));
        place.password().map(Secret::reveal).ifPresent(password -> properties.setProperty("password", password));
        Connection connection = Unprepared.of(OwnDriver.connect(Drivers.of(url, place.label()), url, properties));
        try {
            return prepare(connection, place, access);
        } catch (SQLException e) {
            try {
                connection.close();
            } catch (SQLException closing) {
                e.addSuppressed(closing);
            }
            throw e;
        }
    }

    /** What is opened in a safer way by an address of ours, and what lets a driver load classes or run statements. */
    private static void check(String url, PlaceAccess place) {
        Matcher own = OWN.matcher(url);
        if (own.find()) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "this engine is opened by an address of its own",
                    place.label().withoutTable().toString(),
                    "write " + own.group(1) + ": and the path, or //host/database");
        }
        Matcher loads = LOADS.matcher(url);
        if (!place.session().allowCode() && loads.find()) {
            throw new ToolException(
                    ErrorKind.REFUSED,
                    "this setting lets the driver load code or run statements",
                    place.label().withoutTable() + ", " + loads.group(1),
                    "leave it out, or name the connection in connections.yaml with allow-code: true");
        }
    }
}
