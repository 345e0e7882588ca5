package sharptally.spark.lake;

import java.util.Iterator;
import java.util.List;
import org.apache.spark.api.java.JavaRDD;
import org.apache.spark.sql.Dataset;
import org.apache.spark.sql.Row;
import org.apache.spark.sql.catalyst.InternalRow;
import org.apache.spark.sql.types.StructType;
import sharptally.core.shape.ColumnShape;
import sharptally.spark.send.Sent;

/**
 * Rows of a lake that are to be read, and what they are read as.
 *
 * @param columns as they are described
 */
public record LakeRead(Dataset<Row> rows, List<ColumnShape> columns) {
    public StructType read() {
        return rows.schema();
    }

    public JavaRDD<InternalRow> distributed() {
        return rows.queryExecution().toRdd().toJavaRDD();
    }

    /** All rows, brought to the driver. */
    Iterator<byte[]> packs() {
        return distributed()
                .mapPartitions(new PackRows(read(), Sent.text(columns)))
                .toLocalIterator();
    }
}
