package sharptally.core.shape;

import java.util.List;
import java.util.Optional;

/**
 * A table or view as its database describes it.
 *
 * @param keys the primary key first, if there is one
 */
public record TableShape(
        TableName name,
        boolean view,
        List<ColumnShape> columns,
        List<KeyShape> keys,
        List<ForeignKey> foreignKeys,
        boolean hasTriggers) {
    public TableShape {
        columns = List.copyOf(columns);
        keys = List.copyOf(keys);
        foreignKeys = List.copyOf(foreignKeys);
    }

    /** The column of exactly this name, else the only one that differs by letter case alone. */
    public Optional<ColumnShape> column(String wanted) {
        Optional<ColumnShape> exact =
                columns.stream().filter(c -> c.name().equals(wanted)).findFirst();
        if (exact.isPresent()) {
            return exact;
        }
        List<ColumnShape> alike =
                columns.stream().filter(c -> c.name().equalsIgnoreCase(wanted)).toList();
        return alike.size() == 1 ? Optional.of(alike.get(0)) : Optional.empty();
    }

    /** Whether the database itself holds these columns unique and not NULL, in whatever order they are given. */
    public boolean holdsUnique(List<String> names) {
        return keys.stream()
                .anyMatch(key -> names.containsAll(key.columns())
                        && key.columns().stream()
                                .allMatch(c -> key.primary()
                                        || !column(c).orElseThrow().nullable()));
    }
}
