package sharptally.core.shape;

import java.util.List;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;

/** Which rows of a table are meant; a place that reads them renders it in its own language. Immutable. */
public sealed interface RowFilter {
    /**
     * Rows that meet a condition of the user's own.
     *
     * @param text in the language of the place, such as SQL
     */
    record Condition(String text) implements RowFilter {}

    /** Rows whose column holds this value or a greater one. */
    record AtLeast(ColumnShape column, Value value) implements RowFilter {}

    /**
     * Rows in a sample: so many of so many shares of all keys, told apart by the hash of the key in the common form, so
     * that every place chooses the same keys.
     *
     * @param comparedAs the kinds of the key's columns, one for each
     * @param ofShares a power of two
     */
    record Sample(List<ColumnShape> key, List<Kind> comparedAs, long shares, long ofShares) implements RowFilter {
        public Sample {
            key = List.copyOf(key);
            comparedAs = List.copyOf(comparedAs);
        }
    }
}
