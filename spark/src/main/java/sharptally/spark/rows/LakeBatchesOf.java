package sharptally.spark.rows;

import java.util.Iterator;
import org.apache.spark.sql.types.StructType;
import org.apache.spark.sql.vectorized.ColumnarBatch;
import sharptally.core.rows.RowSource;
import sharptally.spark.lake.LakeBatches;

/** Rows of a lake, column by column. */
public record LakeBatchesOf(StructType read) implements RowsOf<ColumnarBatch> {
    @Override
    public RowSource rows(Iterator<ColumnarBatch> elements) {
        return new LakeBatches(elements, read);
    }
}
