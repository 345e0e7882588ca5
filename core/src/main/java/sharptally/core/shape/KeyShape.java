package sharptally.core.shape;

import java.util.List;

/** A primary key or unique constraint, its columns in the order of the key. */
public record KeyShape(boolean primary, List<String> columns) {
    public KeyShape {
        columns = List.copyOf(columns);
    }
}
