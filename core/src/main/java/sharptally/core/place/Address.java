package sharptally.core.place;

import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;

/**
 * Where a place is, as the user writes it: {@code engine:location#table}.
 *
 * @param engine the engine's name, such as {@code sqlite}
 * @param location what only the engine understands: a path, or host, port and database
 * @param table the one table that is meant
 */
public record Address(String engine, String location, Optional<String> table) {
    /** The engine of an address that is only a name, {@code @archive}, to be looked up in a places file. */
    public static final String NAMED = "@";

    /** Names of parameters and properties whose values must not be seen. */
    public static final Pattern SECRET_NAME =
            Pattern.compile("(?i)(?!.*-(env|file|shared)$).*(pass|pwd|secret|token|credential|api-?_?key).*");

    /** {@code user:pw@}, {@code user/pw@} of a thin driver, or such a parameter. */
    private static final Pattern PASSWORD =
            Pattern.compile("(?i)//[^/@]*:[^/@]*@|^jdbc:.*:[^/@:]+/[^/@]+@|[?;&,(]\\s*([^=?;&,(]*)=");

    private static boolean holdsSecret(String place) {
        Matcher matcher = PASSWORD.matcher(place);
        while (matcher.find()) {
            if (matcher.group(1) == null
                    || SECRET_NAME.matcher(matcher.group(1)).matches()) {
                return true;
            }
        }
        return false;
    }

    public boolean isNamed() {
        return engine.equals(NAMED);
    }

    /**
     * @throws ToolException when the text is not an address
     */
    public static Address parse(String text) {
        int hash = text.indexOf('#');
        String place = hash < 0 ? text : text.substring(0, hash);
        Optional<String> table = hash < 0 ? Optional.empty() : Optional.of(text.substring(hash + 1));
        if (holdsSecret(place)) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "an address must not hold a password, since others can see it",
                    place.substring(0, place.indexOf(':')),
                    "leave it out and name where it is: ?password-env=NAME, ?password-file=PATH, or connections.yaml");
        }
        if (place.length() > 1
                && place.startsWith(NAMED)
                && table.filter(String::isBlank).isEmpty()) {
            return new Address(NAMED, place.substring(1), table);
        }
        int colon = place.indexOf(':');
        if (colon <= 0
                || colon == place.length() - 1
                || table.filter(String::isBlank).isPresent()) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "not an address",
                    text,
                    "write engine:location, such as sqlite:old.db or h2:new#station");
        }
        return new Address(place.substring(0, colon), place.substring(colon + 1), table);
    }

    public Address withoutTable() {
        return new Address(engine, location, Optional.empty());
    }

    public Address withTable(String name) {
        return new Address(engine, location, Optional.of(name));
    }

    /** The address as it may be shown and stored: without any password. */
    @Override
    public String toString() {
        return (isNamed() ? engine : engine + ":")
                + location
                + table.map(t -> "#" + t).orElse("");
    }
}
