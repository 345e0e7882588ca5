package sharptally.core.place.part;

import java.util.Optional;
import sharptally.core.shape.Declarations;
import sharptally.core.shape.Partitioning;
import sharptally.core.shape.TableShape;

/** Tells what a database declares of its tables beside their columns. */
public interface Structure {
    /** Of a table, which is none of a query. */
    Declarations of(TableShape table);

    /** How a table, which is none of a query, is divided; empty where it is not, or that is not told. */
    default Optional<Partitioning> partitioning(TableShape table) {
        return Optional.empty();
    }
}
