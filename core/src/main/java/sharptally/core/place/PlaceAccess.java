package sharptally.core.place;

import java.time.Duration;
import java.util.Map;
import java.util.Optional;

/**
 * All that is needed to open a place.
 *
 * @param label the address as the user wrote it, by which the place is named in all that is shown and stored
 * @param address where it is; never just a name
 * @param properties for the driver
 * @param tls how a server is spoken to
 * @param schema the schema whose tables are meant; empty for all, and the usual one by bare names
 * @param statementTimeout longest time that the server may work on one statement
 * @param allowCode whether code that is kept in the place may run, such as functions of a database file written in Java
 * @param snapshot whether all that is read is read in one state of the database, where the engine can do that; else
 *     each table in its own, and no transaction is left open between them
 */
public record PlaceAccess(
        Address label,
        Address address,
        Optional<String> user,
        Optional<Secret> password,
        Map<String, String> properties,
        Tls tls,
        Optional<String> schema,
        Optional<Duration> statementTimeout,
        boolean allowCode,
        boolean snapshot) {
    public PlaceAccess {
        properties = Map.copyOf(properties);
    }

    /** Of an address that needs nothing else. */
    public static PlaceAccess of(Address address) {
        return new PlaceAccess(
                address,
                address,
                Optional.empty(),
                Optional.empty(),
                Map.of(),
                Tls.USUAL,
                Optional.empty(),
                Optional.empty(),
                false,
                true);
    }

    /** The same by this name, somewhere else. */
    public PlaceAccess at(Address where) {
        return new PlaceAccess(
                label, where, user, password, properties, tls, schema, statementTimeout, allowCode, snapshot);
    }

    /** The same place, read in the one way or the other. */
    public PlaceAccess withSnapshot(boolean wanted) {
        return new PlaceAccess(
                label, address, user, password, properties, tls, schema, statementTimeout, allowCode, wanted);
    }
}
