package sharptally.spark.rows;

import java.util.List;
import org.apache.spark.api.java.JavaPairRDD;
import org.apache.spark.api.java.JavaRDD;
import sharptally.core.rows.RowSource;

/**
 * The rows of one side as the executors have them.
 *
 * @param elements of which rows are made
 * @param bytes about how many they take; -1 where unknown
 */
public record DistributedRows<T>(JavaRDD<T> elements, RowsOf<T> rows, long bytes) {
    /** What comes of each partition. */
    public JavaPairRDD<Integer, byte[]> parts(Task task) {
        RowsOf<T> made = rows;
        return elements.mapPartitionsToPair(each -> {
            RowSource source = made.rows(each);
            TaskEnd.run(source::close);
            return task.of(source);
        });
    }

    public int partitions() {
        return elements.getNumPartitions();
    }

    /** Nothing but some bytes of each partition, brought to the driver. */
    public List<byte[]> collected(Task task) {
        return parts(task).values().collect();
    }
}
