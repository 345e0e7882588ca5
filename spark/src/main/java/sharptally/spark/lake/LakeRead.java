package sharptally.spark.lake;

import java.util.Iterator;
import java.util.List;
import java.util.Optional;
import org.apache.spark.api.java.JavaRDD;
import org.apache.spark.sql.Dataset;
import org.apache.spark.sql.Row;
import org.apache.spark.sql.catalyst.InternalRow;
import org.apache.spark.sql.execution.ColumnarToRowExec;
import org.apache.spark.sql.execution.InputAdapter;
import org.apache.spark.sql.execution.SparkPlan;
import org.apache.spark.sql.execution.WholeStageCodegenExec;
import org.apache.spark.sql.types.StructType;
import org.apache.spark.sql.vectorized.ColumnarBatch;
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

    /** The same column by column, where files are read so and nothing else is done with their rows. */
    public Optional<JavaRDD<ColumnarBatch>> columnar() {
        SparkPlan plan = rows.queryExecution().executedPlan();
        SparkPlan inner = plan instanceof WholeStageCodegenExec compiled ? compiled.child() : plan;
        if (inner instanceof ColumnarToRowExec made
                && LakeBatches.takes(read())
                && columns.stream().noneMatch(c -> c.type().orElseThrow().isWritten())) {
            SparkPlan files = made.child() instanceof InputAdapter adapter ? adapter.child() : made.child();
            return Optional.of(files.executeColumnar().toJavaRDD());
        }
        return Optional.empty();
    }

    /** All rows, brought to the driver. */
    Iterator<byte[]> packs() {
        return distributed()
                .mapPartitions(new PackRows(read(), Sent.text(columns)))
                .toLocalIterator();
    }
}
