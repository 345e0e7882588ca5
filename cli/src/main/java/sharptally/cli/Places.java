package sharptally.cli;

import java.io.Console;
import java.nio.file.Path;
import java.util.Map;
import java.util.Optional;
import sharptally.core.place.Address;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.Secret;
import sharptally.formats.places.PlacesFile;

/** Finds out how to open the places that the user names. */
record Places(PlacesFile file) {
    /** With the user's own places file, environment and terminal. */
    static Places ofUser() {
        Map<String, String> environment = System.getenv();
        Path configuration = Path.of(Optional.ofNullable(environment.get("XDG_CONFIG_HOME"))
                .orElse(System.getProperty("user.home") + "/.config"));
        return new Places(PlacesFile.find(
                Path.of("places.yaml"),
                configuration.resolve("sharp-tally").resolve("places.yaml"),
                environment,
                Places::ask));
    }

    PlaceAccess resolve(String address) {
        return file.resolve(Address.parse(address));
    }

    /** A place that a job file or run folder names. */
    PlaceAccess resolveOfFile(String address) {
        return file.resolve(Address.parse(address), PlacesFile.Origin.FILE);
    }

    private static Optional<Secret> ask(String place) {
        return Optional.ofNullable(System.console())
                .map((Console console) -> console.readPassword("password of %s: ", place))
                .map(typed -> new Secret(new String(typed)));
    }
}
