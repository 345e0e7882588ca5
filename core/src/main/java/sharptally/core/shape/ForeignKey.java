package sharptally.core.shape;

import java.util.List;

/** Columns that must name a row of another table (or of the same one). */
public record ForeignKey(List<String> columns, TableName parent, List<String> parentColumns) {
    public ForeignKey {
        columns = List.copyOf(columns);
        parentColumns = List.copyOf(parentColumns);
    }
}
