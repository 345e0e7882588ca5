package sharptally.core.place.part;

import java.util.List;
import sharptally.core.range.KeyRange;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;

/**
 * Two tables of one server, of which the rows are wanted that are distinct.
 *
 * @param sourceColumns what to hand over of the source's row; the first {@code compared} are compared with the target's
 * @param targetColumns the same of the target's row
 * @param compared how many columns are compared, each with the one in the same place
 * @param key places of the key among these
 * @param range only the rows in this range
 */
public record JoinRequest(
        TableShape source,
        List<ColumnShape> sourceColumns,
        TableShape target,
        List<ColumnShape> targetColumns,
        int compared,
        List<Integer> key,
        KeyRange range) {
    public JoinRequest {
        sourceColumns = List.copyOf(sourceColumns);
        targetColumns = List.copyOf(targetColumns);
        key = List.copyOf(key);
    }
}
