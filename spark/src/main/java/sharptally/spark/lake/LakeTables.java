package sharptally.spark.lake;

import java.util.List;
import java.util.Optional;
import org.apache.spark.sql.Dataset;
import org.apache.spark.sql.Row;
import sharptally.core.shape.TableName;

/** Which tables there are, and how each is had. */
interface LakeTables {
    /** By name. */
    List<TableName> tables();

    /** The one table that is meant; empty where there may be several. */
    Optional<TableName> sole();

    /** The schema whose tables go by their bare names; empty text where there are no schemas. */
    String schema();

    Dataset<Row> rows(TableName table);

    /** Whether a table holds the writing of values, whose types only the other side tells. */
    boolean isWritten();
}
