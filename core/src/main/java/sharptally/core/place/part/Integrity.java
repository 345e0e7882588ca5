package sharptally.core.place.part;

import java.util.List;
import java.util.Optional;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;

/** Asks a database what of its rows a constraint would not let in, by one pass over the whole table each, whatever narrows it. */
public interface Integrity {
    /**
     * What does not meet a constraint.
     *
     * @param rows how many rows, or where values repeat, how many values
     * @param examples the values of some of them, the columns' values one beside the other
     */
    record Unmet(long rows, List<List<String>> examples) {
        public Unmet {
            examples = List.copyOf(examples);
        }
    }

    /**
     * The next number that the database gives a column, and the greatest that is there.
     *
     * @param greatest empty where there is no row
     */
    record Numbers(long next, Optional<Long> greatest) {
        /** Whether the next row gets a number that is there already, or is behind one. */
        public boolean areBehind() {
            return greatest.filter(most -> next <= most).isPresent();
        }
    }

    /** Rows whose columns are all filled, and that name no row of another table. */
    Unmet orphans(TableShape table, List<String> columns, TableName parent, List<String> parentColumns);

    /** Values that several rows have in these columns, by the database's own equality; rows with a NULL there count for none. */
    Unmet repeated(TableShape table, List<String> columns);

    /**
     * Rows without a value in a column.
     *
     * @param key the columns that tell which rows these are
     */
    Unmet empty(TableShape table, String column, List<String> key);

    /** Empty where the database does not tell, or can't fall behind. */
    Optional<Numbers> numbers(TableShape table, ColumnShape column);
}
