package sharptally.formats.connections;

import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.match.text.Nearest;
import sharptally.core.place.Address;

/**
 * What an address says for itself behind a question mark: {@code schema}, {@code password-env}, {@code password-file},
 * {@code password-shared}, {@code statement-timeout}, {@code lock-wait}, {@code allow-code}, {@code tls}, {@code tls-authority}, {@code
 * tls-certificate}, {@code tls-key}, {@code tls-password-env} and, for settings of the driver, {@code driver.NAME}. No other
 * is known, so that one that is misspelt does not go without effect.
 */
final class AddressOptions {
    private static final String DRIVER = "driver.";
    private static final List<String> KNOWN = List.of(
            "schema",
            "password-env",
            "password-file",
            "password-shared",
            "statement-timeout",
            "lock-wait",
            "allow-code",
            "tls",
            "tls-authority",
            "tls-certificate",
            "tls-key",
            "tls-password-env");

    /** What only the user may say of a place, not a file that may come from somebody else. */
    private static final List<String> OF_USER = List.of("allow-code", "password-shared");

    private AddressOptions() {}

    /** Sorts options into ours and the driver's, and refuses all others. */
    static Map<String, String> sorted(
            String engine, String text, Address label, ConnectionsFile.Origin origin, Map<String, String> driver) {
        Map<String, String> ours = new HashMap<>();
        for (String option : text.isEmpty() ? new String[0] : text.split("&")) {
            String[] parts = option.split("=", 2);
            String value = parts.length == 1 ? "" : URLDecoder.decode(parts[1], StandardCharsets.UTF_8);
            if (DriverSettings.ofAddress(engine).contains(parts[0])) {
                driver.put(parts[0], value);
            } else if (parts[0].startsWith(DRIVER) && parts[0].length() > DRIVER.length()) {
                String name = parts[0].substring(DRIVER.length());
                if (origin == ConnectionsFile.Origin.FILE) {
                    throw problem(
                            "a setting of the driver must not stand in a job file or run folder",
                            label.withoutTable() + ", " + parts[0],
                            "name the connection in connections.yaml, with its properties");
                }
                checkDriver(engine, name, label);
                driver.put(name, value);
            } else if (origin == ConnectionsFile.Origin.FILE && OF_USER.contains(parts[0])) {
                throw problem(
                        "this option must not stand in a job file or run folder",
                        label.withoutTable() + ", " + parts[0],
                        "name the connection in connections.yaml");
            } else if (KNOWN.contains(parts[0])) {
                ours.put(parts[0], value);
            } else {
                List<String> ofFiles = DriverSettings.ofAddress(engine);
                if (!ofFiles.isEmpty()) {
                    throw problem(
                            "no such option of an address of files: " + parts[0],
                            label.withoutTable().toString(),
                            Nearest.hint(parts[0], ofFiles, "there are: "));
                }
                throw problem(
                        "no such option of an address: " + parts[0],
                        label.withoutTable().toString(),
                        Nearest.question(parts[0], KNOWN)
                                + (Nearest.question(parts[0], KNOWN).isEmpty() ? "" : "; ")
                                + "a setting of the driver is written " + DRIVER + parts[0]);
            }
        }
        return ours;
    }

    static void checkDriver(String engine, String name, Address label) {
        if (Address.SECRET_NAME.matcher(name).matches()) {
            return; // Refused by itself, with what to do instead.
        }
        DriverSettings.refusal(engine, name).ifPresent(why -> {
            String nearest = Nearest.question(name, DriverSettings.known(engine));
            throw problem(
                    why,
                    label.withoutTable() + ", " + name,
                    why.contains("schema")
                            ? "choose a schema with ?schema=NAME"
                            : nearest.isEmpty() ? "leave it out; those that are stand in docs/places.md" : nearest);
        });
    }

    private static ToolException problem(String what, String where, String mend) {
        return new ToolException(ErrorKind.USAGE, what, where, mend);
    }
}
