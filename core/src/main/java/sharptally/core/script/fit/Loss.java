package sharptally.core.script.fit;

import java.util.List;
import sharptally.core.script.Change.Field;
import sharptally.core.shape.ColumnShape;

/**
 * A value that does not come over as it is.
 *
 * @param key of the row
 */
public record Loss(ColumnShape column, Way way, List<Field> key) {
    /** What becomes of it. */
    public enum Way {
        /** The column holds fewer digits than it has. */
        ROUNDED,
        /** The column holds what is nearest to it already, so nothing is done. */
        NEAREST,
        /** The column is computed, so nothing can be written, and nothing else is changed that it could follow from. */
        COMPUTED
    }

    /** A sentence's beginning, for all such values of a column. */
    public String told(String table) {
        String name = table + "." + column.name();
        return switch (way) {
            case ROUNDED -> "values for " + name + " are rounded, as it is " + column.declaredType();
            case NEAREST ->
                "differing values of " + name + " stay, as " + column.declaredType() + " holds nothing that is nearer";
            case COMPUTED ->
                "differing values of " + name + " stay, as it is computed"
                        + (column.expression().isPresent() ? " by the job" : " by the database");
        };
    }
}
