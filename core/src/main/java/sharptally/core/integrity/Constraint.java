package sharptally.core.integrity;

import java.util.List;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;

/** What should hold of the rows of one table of one side. */
public sealed interface Constraint {
    /** Of which table. */
    TableShape table();

    /**
     * Each row whose columns are all filled names a row of another table.
     *
     * @param parent the other table, or this one
     * @param parentColumns in the order of the columns
     */
    record Refers(TableShape table, List<String> columns, TableName parent, List<String> parentColumns)
            implements Constraint {
        public Refers {
            columns = List.copyOf(columns);
            parentColumns = List.copyOf(parentColumns);
        }
    }

    /** No two rows are equal in these columns, where all of them are filled. */
    record Unique(TableShape table, List<String> columns) implements Constraint {
        public Unique {
            columns = List.copyOf(columns);
        }
    }

    /** No row has NULL there. */
    record Filled(TableShape table, String column) implements Constraint {}

    /** The next number that the database gives by itself is greater than all that are there. */
    record Numbered(TableShape table, ColumnShape column) implements Constraint {}
}
