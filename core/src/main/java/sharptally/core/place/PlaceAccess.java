package sharptally.core.place;

import java.nio.file.Path;
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
 */
public record PlaceAccess(
        Address label,
        Address address,
        Optional<String> user,
        Optional<Secret> password,
        Map<String, String> properties,
        Tls tls,
        Optional<String> schema,
        SessionSettings session) {
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
                SessionSettings.USUAL);
    }

    /** The same by this name, somewhere else. */
    public PlaceAccess at(Address where) {
        return new PlaceAccess(label, where, user, password, properties, tls, schema, session);
    }

    /** The same place, called so. */
    public PlaceAccess called(Address name) {
        return new PlaceAccess(name, address, user, password, properties, tls, schema, session);
    }

    /** The same place with one of its schemas meant. */
    public PlaceAccess inSchema(String wanted) {
        return new PlaceAccess(label, address, user, password, properties, tls, Optional.of(wanted), session);
    }

    /** The same place, read in the one way or the other. */
    public PlaceAccess withSnapshot(boolean wanted) {
        return with(session.withSnapshot(wanted));
    }

    /** The same place, read in states that are not older than this. */
    public PlaceAccess withSnapshotsUpTo(Duration age) {
        return with(session.withSnapshotsUpTo(age));
    }

    /** The same place, whose engine may put into a folder what its memory does not hold. */
    public PlaceAccess spillingTo(Path folder) {
        return with(session.spillingTo(folder));
    }

    /** The same place, whose engine may keep in a folder what it reads of large files. */
    public PlaceAccess keepingIn(Path folder) {
        return with(session.keepingIn(folder));
    }

    /** The same place, which may read another one as well. */
    public PlaceAccess beside(Address other) {
        return with(session.beside(other));
    }

    /** The same place, which may have so many connections open. */
    public PlaceAccess withMaxConnections(int most) {
        return with(session.withMaxConnections(most));
    }

    /** The same place, read in states, and of a schema, as another one is. */
    public PlaceAccess readAs(PlaceAccess other) {
        PlaceAccess same = withSnapshot(other.session.snapshot());
        PlaceAccess aged =
                other.session.limits().snapshot().map(same::withSnapshotsUpTo).orElse(same);
        return other.schema.map(aged::inSchema).orElse(aged);
    }

    private PlaceAccess with(SessionSettings other) {
        return new PlaceAccess(label, address, user, password, properties, tls, schema, other);
    }
}
