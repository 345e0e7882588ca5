package sharptally.engines.jdbc.embed;

import java.nio.file.Path;
import java.util.List;
import sharptally.core.place.Place;
import sharptally.core.place.PlaceAccess;
import sharptally.core.sql.SqlDialect;

/** A database within this program. Immutable. */
public interface Embedded {
    /**
     * Opens a place whose tables are files, which are not changed.
     *
     * @throws sharptally.core.fault.ToolException when a file can't be read as what it should be
     */
    Place open(PlaceAccess access, Relations relations);

    /** What values it can hold. */
    SqlDialect dialect();

    /**
     * Writes rows into a Parquet file that is not there yet.
     *
     * @param relation the rows
     * @param columns of the file
     */
    void write(PlaceAccess access, Relation.Copied relation, List<Kept> columns, Path parquet);

    /**
     * A column of a Parquet file.
     *
     * @param type in the database's words
     */
    record Kept(String name, String type) {}
}
