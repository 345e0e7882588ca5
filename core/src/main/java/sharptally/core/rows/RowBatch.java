package sharptally.core.rows;

import java.util.ArrayList;
import java.util.List;
import sharptally.core.types.Value;

/** Some consecutive rows of one side, column by column. Not changed once it has been handed on. */
public final class RowBatch {
    private final List<Column> columns;
    private final int rows;

    /** Every column must have {@code rows} cells. */
    public RowBatch(List<Column> columns, int rows) {
        this.columns = List.copyOf(columns);
        this.rows = rows;
        for (Column column : columns) {
            if (column.size() != rows) {
                throw new IllegalStateException("a column has " + column.size() + " cells in a batch of " + rows);
            }
        }
    }

    public int rows() {
        return rows;
    }

    public Column column(int index) {
        return columns.get(index);
    }

    public List<Column> columns() {
        return columns;
    }

    /** All values of one row, in column order. */
    public List<Value> row(int row) {
        List<Value> values = new ArrayList<>(columns.size());
        for (Column column : columns) {
            values.add(column.value(row));
        }
        return values;
    }
}
