package sharptally.engines.any;

import java.io.File;
import java.net.MalformedURLException;
import java.net.URL;
import java.net.URLClassLoader;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.Driver;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Properties;
import java.util.ServiceLoader;
import java.util.concurrent.ConcurrentHashMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.Hint;
import sharptally.core.fault.ToolException;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.Secret;
import sharptally.engines.jdbc.connect.Connector;

/**
 * Finds the driver that takes the URL, among those of this program and those whose jars lie in the drivers' folder or
 * are named by {@code --driver-jar}.
 */
final class AnyConnector implements Connector {
    /** System property: folder of further drivers. */
    private static final String FOLDER = "sharptally.drivers";

    /** System property: further jars, separated as in a class path. */
    private static final String JARS = "sharptally.driverJars";

    /** Embedded engines would make a file where the path is mistyped, and run what a file holds. */
    private static final Pattern OWN = Pattern.compile("^jdbc:(h2|sqlite|duckdb|postgresql|mariadb|mysql):");

    private static final Pattern LOADS = Pattern.compile(
            "(?i)[?;&](\\w*(?:factory|plugin|class|callback|interceptor|deserialize|listener|init|infile|provider)\\w*)=");

    private final Map<List<URL>, ClassLoader> loaders = new ConcurrentHashMap<>();

    @Override
    public boolean keepsOneState() {
        return false;
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
    public void prepare(Connection connection, PlaceAccess place, Access access) throws SQLException {
        connection.setReadOnly(access == Access.READ_ONLY);
        connection.setAutoCommit(false);
    }

    @Override
    public Connection connect(PlaceAccess place, Access access) throws SQLException {
        String url = "jdbc:" + place.address().location();
        check(url, place);
        Properties properties = new Properties();
        properties.putAll(place.properties());
        place.user().ifPresent(user -> properties.setProperty("user", user));
        place.password().map(Secret::reveal).ifPresent(password -> properties.setProperty("password", password));
        Connection connection = driver(url, place).connect(url, properties);
        if (connection == null) {
            throw new SQLException("the driver does not take this URL");
        }
        try {
            prepare(connection, place, access);
            return connection;
        } catch (SQLException e) {
            connection.close();
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

    private Driver driver(String url, PlaceAccess place) throws SQLException {
        // One loader for the same jars: an embedded database can't be opened by two copies of its own driver.
        ClassLoader loader = loaders.computeIfAbsent(
                jars(), jars -> new URLClassLoader(jars.toArray(new URL[0]), AnyConnector.class.getClassLoader()));
        List<String> broken = new ArrayList<>();
        var drivers = ServiceLoader.load(Driver.class, loader).iterator();
        while (drivers.hasNext()) {
            try {
                Driver driver = drivers.next();
                if (driver.acceptsURL(url)) {
                    return driver;
                }
            } catch (java.util.ServiceConfigurationError | LinkageError e) {
                broken.add(String.valueOf(e.getMessage()));
            }
        }
        throw new ToolException(
                ErrorKind.CONNECT,
                "no JDBC driver takes this address"
                        + (broken.isEmpty() ? "" : " (could not be loaded: " + String.join("; ", broken) + ")"),
                place.label().toString(),
                Hint.DRIVER_JAR);
    }

    private static List<URL> jars() throws SQLException {
        List<Path> paths = new ArrayList<>();
        Optional.ofNullable(System.getProperty(FOLDER))
                .map(folder -> new File(folder).listFiles((dir, name) -> name.endsWith(".jar")))
                .ifPresent(
                        files -> Arrays.stream(files).map(File::toPath).sorted().forEach(paths::add));
        Optional.ofNullable(System.getProperty(JARS))
                .ifPresent(jars -> Arrays.stream(jars.split(File.pathSeparator))
                        .map(Path::of)
                        .forEach(paths::add));
        List<URL> urls = new ArrayList<>();
        for (Path path : paths) {
            if (!path.toFile().isFile()) {
                throw new ToolException(ErrorKind.USAGE, "no such driver jar", path.toString(), Hint.CHECK_DRIVER_JAR);
            }
            try {
                urls.add(path.toUri().toURL());
            } catch (MalformedURLException e) {
                throw new SQLException(e);
            }
        }
        return urls;
    }
}
