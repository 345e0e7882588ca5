package sharptally.core.place;

import java.util.Optional;
import sharptally.core.place.part.Changes;

/** How one kind of database is spoken to. Immutable; safe to share between threads. */
public interface Engine {
    /** The word that users write before the colon of an address. */
    String name();

    /**
     * Opens a place for reading; the server or driver is told that nothing will be written.
     *
     * @throws sharptally.core.fault.ToolException when it is not there, is no such database, or refuses us
     */
    Place open(PlaceAccess access);

    /** How its places are changed; empty where they can only be read. */
    Optional<Changes> changes();
}
