package sharptally.engines.files;

import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import sharptally.core.place.Estimate;
import sharptally.core.place.part.Records;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;

/** Files that hold tables, read from first to last. */
public interface RowFiles {
    /** What they are, as a place tells it. */
    String product();

    /** How they are written: name to value, in order. */
    Map<String, String> facts();

    String ownSchema();

    List<TableName> tables();

    /** The table that their address alone means; empty where they may hold several. */
    Optional<TableName> soleTable();

    /** Of one of the tables; its position is told by the place. */
    TableShape describe(TableName table);

    /** What of a table was passed over while it was read; see {@code Place.passedOver}. */
    List<String> passedOver(TableName table);

    /** Where the rows of a table are. */
    List<Path> files(TableName table);

    /** How large a table is, as far as that is told without reading it to its end. */
    Estimate estimate(TableName table);

    /** Their records as they are written; empty where they can only be read. A new one each time: it keeps what it saw. */
    default Optional<Records> records() {
        return Optional.empty();
    }

    /**
     * The rows of a table; the caller closes them.
     *
     * @param columns names of columns
     * @param positions whether a further column tells where each row stands
     * @param skip how many rows to pass over
     */
    RowSource read(TableName table, List<String> columns, boolean positions, long skip, OptionalLong limit);
}
