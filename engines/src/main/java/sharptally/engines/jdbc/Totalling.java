package sharptally.engines.jdbc;

import java.util.Optional;
import sharptally.core.place.TimeUnit;
import sharptally.core.shape.ColumnShape;

/**
 * How one engine works out totals, so that equal rows give equal figures in every engine. Each answer is a piece of
 * SQL over the column's quoted name; empty where the engine has no form that others share. Immutable.
 */
public interface Totalling {
    /** The exact sum of a column of whole numbers or decimals. */
    String exactSum(ColumnShape column);

    /** The sum of a numeric column as a floating value of 64 bits. */
    String floatingSum(ColumnShape column);

    /** What stands within MIN and MAX: text is put in the order of its UTF-8 bytes. */
    Optional<String> ordered(ColumnShape column);

    /** What {@code MIN(ordered)} gives back, as a value of the column's own type. */
    String fromOrdered(ColumnShape column, String aggregate);

    /** What stands within COUNT(DISTINCT …) and GROUP BY: equal only where the values are. */
    String distinct(ColumnShape column);

    /** What a grouped {@link #distinct} gives back, as a value of the column's own type. */
    String fromDistinct(ColumnShape column, String grouped);

    /** The bytes of a value; of text in UTF-8, without padding. */
    Optional<String> length(ColumnShape column);

    /** The beginning of the date or time as ISO text. */
    Optional<String> span(ColumnShape column, TimeUnit unit);
}
