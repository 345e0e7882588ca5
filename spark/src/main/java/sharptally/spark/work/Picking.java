package sharptally.spark.work;

import java.io.Serializable;
import java.util.function.Function;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Side;
import sharptally.core.rows.RowBatch;

/** Which rows are sent. */
public interface Picking extends Serializable {
    /** Tells the places of the rows in a batch that are sent; looks at nothing but the key's columns. Used by one thread. */
    Function<RowBatch, int[]> chooser(TableMatch match, Side side);
}
