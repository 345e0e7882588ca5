package sharptally.spark.rows;

import java.util.Iterator;
import org.apache.spark.sql.catalyst.InternalRow;
import org.apache.spark.sql.types.StructType;
import sharptally.core.rows.RowSource;
import sharptally.spark.lake.LakeRows;
import sharptally.spark.send.Sent;

/**
 * Rows of a lake.
 *
 * @param read what they are read as
 * @param columns as they are described, as text
 */
public record LakeRowsOf(StructType read, String columns) implements RowsOf<InternalRow> {
    @Override
    public RowSource rows(Iterator<InternalRow> elements) {
        return new LakeRows(elements, read, Sent.columns(columns));
    }
}
