package sharptally.core.script.rewrite;

import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import sharptally.core.place.PlaceAccess;
import sharptally.core.sql.SqlDialect;

/** Writing the files of a place anew, with changes. The old ones are never touched. */
public interface Rewrites {
    /** What values can be held; no statement is made. */
    SqlDialect dialect();

    /**
     * Writes a table's files anew: rows that change are replaced, missing ones inserted, others left out; all that is
     * neither stays byte for byte, where the form of the files has lines.
     *
     * @param changes of one table; each of them is found in it
     * @param into the new file, or a folder for the files of a table that has several; it is there, and they are not
     * @return what was written
     * @throws sharptally.core.fault.ToolException when a row is not as it was compared, or files of this form can't be
     *     rewritten; nothing half-written is left
     */
    List<Path> rewrite(PlaceAccess access, RowChanges changes, Path into);

    /** The files of a table, as they are now; copies on this machine where they are elsewhere. */
    List<Path> files(PlaceAccess access, String table);

    /**
     * Puts a new file beside the old ones, where these are not on this machine.
     *
     * @return its address there; empty where they are on this machine
     * @throws sharptally.core.fault.ToolException when it can't be put there, or there is one of its name
     */
    Optional<String> publish(PlaceAccess access, Path file);
}
