package sharptally.engines.jdbc.connect;

import java.io.File;
import java.net.MalformedURLException;
import java.net.URL;
import java.net.URLClassLoader;
import java.nio.file.Path;
import java.sql.Driver;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.ServiceLoader;
import java.util.concurrent.ConcurrentHashMap;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.Hint;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Address;

/**
 * Finds the driver that takes a URL, among those of this program and those whose jars users bring: in a folder, or each by its
 * name.
 */
public final class Drivers {
    /** System property: folder of further drivers. */
    private static final String FOLDER = "sharptally.drivers";

    /** System property: further jars, separated as in a class path. */
    private static final String JARS = "sharptally.driverJars";

    /** One loader for the same jars: an embedded database can't be opened by two copies of its own driver. */
    private static final Map<List<URL>, ClassLoader> LOADERS = new ConcurrentHashMap<>();

    private Drivers() {}

    /**
     * @param label of the place, for messages
     * @throws ToolException when there is none
     */
    public static Driver of(String url, Address label) throws SQLException {
        ClassLoader loader = LOADERS.computeIfAbsent(
                jars(), jars -> new URLClassLoader(jars.toArray(new URL[0]), Drivers.class.getClassLoader()));
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
                label.toString(),
                Hint.DRIVER_JAR);
    }

    private static List<URL> jars() throws SQLException {
        List<Path> paths = new ArrayList<>();
        Optional.ofNullable(System.getProperty(FOLDER))
                .map(folder -> new File(folder).listFiles((dir, name) -> name.endsWith(".jar")))
                .ifPresent(
                        files -> Arrays.stream(files).map(File::toPath).sorted().forEach(paths::add));
        Optional.ofNullable(System.getProperty(JARS))
                .filter(jars -> !jars.isEmpty())
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
