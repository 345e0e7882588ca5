package sharptally.core.place;

import java.util.List;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;

/**
 * Which rows to read.
 *
 * @param columns what to read, in this order
 * @param orderBy the columns to order by, ascending, NULL first, text in binary order where the engine can; empty for
 *     any order
 */
public record ReadRequest(TableShape table, List<ColumnShape> columns, List<ColumnShape> orderBy) {
    public ReadRequest {
        columns = List.copyOf(columns);
        orderBy = List.copyOf(orderBy);
    }
}
