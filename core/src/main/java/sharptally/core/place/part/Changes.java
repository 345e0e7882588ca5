package sharptally.core.place.part;

import sharptally.core.place.PlaceAccess;
import sharptally.core.sql.SqlDialect;

/** Changing rows, and writing scripts that do. */
public interface Changes {
    /**
     * Opens a place for changing rows, in one transaction that begins with the first change.
     *
     * @throws sharptally.core.fault.ToolException when it is not there, is no such database, or refuses us
     */
    ChangeSession open(PlaceAccess access);

    SqlDialect dialect();
}
