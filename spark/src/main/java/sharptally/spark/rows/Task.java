package sharptally.spark.rows;

import java.io.Serializable;
import java.util.Iterator;
import scala.Tuple2;
import sharptally.core.rows.RowSource;

/** What is done with the rows of one partition: bytes for numbered parts come of it. */
public interface Task extends Serializable {
    Iterator<Tuple2<Integer, byte[]>> of(RowSource rows);
}
