package sharptally.spark.rows;

import java.io.Serializable;
import java.util.Iterator;
import sharptally.core.rows.RowSource;

/** Makes rows, on an executor, of the elements of one partition. */
public interface RowsOf<T> extends Serializable {
    RowSource rows(Iterator<T> elements);
}
