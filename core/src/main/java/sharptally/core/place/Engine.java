package sharptally.core.place;

import sharptally.core.sql.SqlDialect;

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

    /**
     * Opens a place for changing rows, in one transaction that begins with the first change.
     *
     * @throws sharptally.core.fault.ToolException as {@link #open}
     */
    ChangeSession openForChanges(PlaceAccess access);

    SqlDialect dialect();
}
