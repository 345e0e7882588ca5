package sharptally.cli.option;

import java.io.Console;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import sharptally.api.job.connect.Endpoints;
import sharptally.cli.help.Words;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Address;
import sharptally.core.place.Endpoint;
import sharptally.core.place.Secret;
import sharptally.formats.connections.ConnectionsFile;
import sharptally.formats.run.RunFolder;

/**
 * Finds out how to open the places that the user names.
 *
 * @param temporary folder for what an engine inside this program can't hold in memory
 */
public record Connections(ConnectionsFile file, Path temporary) {
    /** System property: whether job files and run folders may name addresses of drivers. */
    public static final String ALLOW_JDBC = "sharptally.allowJdbc";

    /** With the user's own connections file, environment and terminal. */
    public static Connections ofUser() {
        Map<String, String> environment = System.getenv();
        return new Connections(
                ConnectionsFile.find(
                        Path.of("connections.yaml"),
                        configuration(environment).resolve("connections.yaml"),
                        environment,
                        Connections::ask),
                Path.of(System.getProperty("java.io.tmpdir")));
    }

    /** The folder of the user's own settings for this program. */
    public static Path configuration(Map<String, String> environment) {
        return Path.of(Optional.ofNullable(environment.get("XDG_CONFIG_HOME"))
                        .orElse(System.getProperty("user.home") + "/.config"))
                .resolve("sharp-tally");
    }

    /** The connections file of the user, if there is one. */
    public static Optional<Path> fileOfUser(Map<String, String> environment) {
        return Stream.of(Path.of("connections.yaml"), configuration(environment).resolve("connections.yaml"))
                .filter(Files::exists)
                .findFirst();
    }

    public Endpoint resolve(String address) {
        return Endpoints.of(address, part -> Endpoints.of(file.resolve(part).keepingIn(keeping()), temporary));
    }

    /** Where what is read of large files is kept for the next time: the user's cache. */
    public static Path keeping() {
        Path cache = Path.of(Optional.ofNullable(System.getenv("XDG_CACHE_HOME"))
                .filter(path -> !path.isEmpty())
                .orElse(System.getProperty("user.home") + "/.cache"));
        return cache.resolve("sharp-tally");
    }

    /**
     * A database that a job file or run folder names, which may come from somebody else.
     *
     * @throws ToolException when it is the address of a driver, which can say many things to it, and that is not allowed
     */
    public Endpoint resolveOfFile(String address) {
        if (Endpoints.namesDriver(address) && !Boolean.getBoolean(ALLOW_JDBC)) {
            throw new ToolException(
                    ErrorKind.REFUSED,
                    "a job file or run folder names a driver's own address, which may make it run code or read files",
                    Address.parse(address).withoutTable().toString(),
                    "if you trust it, give --allow-jdbc, or name the connection in connections.yaml");
        }
        return Endpoints.of(
                address,
                part -> Endpoints.of(
                        file.resolve(part, ConnectionsFile.Origin.FILE).keepingIn(keeping()), temporary));
    }

    /** The option without which the places of a run are not opened; none where they are opened without. */
    public static List<String> words(RunFolder run) {
        boolean needed = Endpoints.namesDriver(run.summary().source().name())
                || Endpoints.namesDriver(run.summary().target().name());
        return new Words().flag("--allow-jdbc", needed).list();
    }

    private static Optional<Secret> ask(String place) {
        return Optional.ofNullable(System.console())
                .map((Console console) -> console.readPassword("password of %s: ", place))
                .map(typed -> new Secret(new String(typed)));
    }
}
