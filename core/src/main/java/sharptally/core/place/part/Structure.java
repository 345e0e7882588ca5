package sharptally.core.place.part;

import sharptally.core.shape.Declarations;
import sharptally.core.shape.TableShape;

/** Tells what a database declares of its tables beside their columns. */
@FunctionalInterface
public interface Structure {
    /** Of a table, which is none of a query. */
    Declarations of(TableShape table);
}
