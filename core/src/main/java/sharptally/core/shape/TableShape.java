package sharptally.core.shape;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * A table or view as its database describes it.
 *
 * @param keys the primary key first, if there is one
 * @param query the query whose rows these are, where there is no such table; nothing can be written to it
 * @param filters what the rows meet, each of them; the other rows of the table are not seen
 * @param position the column that tells of each row, as text, where it stands, such as the line of a file; none of the
 *     table's own, and never compared
 */
public record TableShape(
        TableName name,
        boolean view,
        List<ColumnShape> columns,
        List<KeyShape> keys,
        List<ForeignKey> foreignKeys,
        SideEffects sideEffects,
        Optional<String> query,
        List<RowFilter> filters,
        Optional<ColumnShape> position) {
    public TableShape {
        columns = List.copyOf(columns);
        keys = List.copyOf(keys);
        foreignKeys = List.copyOf(foreignKeys);
        filters = List.copyOf(filters);
    }

    /** All rows of a table or view. */
    public TableShape(
            TableName name,
            boolean view,
            List<ColumnShape> columns,
            List<KeyShape> keys,
            List<ForeignKey> foreignKeys,
            boolean hasTriggers) {
        this(
                name,
                view,
                columns,
                keys,
                foreignKeys,
                SideEffects.NONE.withTriggers(hasTriggers),
                Optional.empty(),
                List.of(),
                Optional.empty());
    }

    /** The rows of a query. */
    public static TableShape ofQuery(TableName name, String query, List<ColumnShape> columns) {
        return new TableShape(
                name,
                true,
                columns,
                List.of(),
                List.of(),
                SideEffects.NONE,
                Optional.of(query),
                List.of(),
                Optional.empty());
    }

    public boolean hasTriggers() {
        return sideEffects.triggers();
    }

    /** The same table, and what its database does by itself, beside triggers. */
    public TableShape with(SideEffects effects) {
        return new TableShape(
                name, view, columns, keys, foreignKeys, effects.withTriggers(hasTriggers()), query, filters, position);
    }

    /** The same table, of whose rows it is known where they stand. */
    public TableShape tellingPosition(ColumnShape column) {
        return new TableShape(name, view, columns, keys, foreignKeys, sideEffects, query, filters, Optional.of(column));
    }

    /** The same table by a name that holds its schema. */
    public TableShape inSchema(String schema) {
        return name.schema().isPresent() ? this : called(TableName.of(schema, name.name()));
    }

    /** The same table by another name. */
    public TableShape called(TableName other) {
        return new TableShape(other, view, columns, keys, foreignKeys, sideEffects, query, filters, position);
    }

    /** The same table with only those of its rows that meet a further condition. */
    public TableShape and(RowFilter filter) {
        List<RowFilter> all = new ArrayList<>(filters);
        all.add(filter);
        return new TableShape(name, view, columns, keys, foreignKeys, sideEffects, query, all, position);
    }

    /** The same table, of all its partitions. */
    public TableShape ofAllPartitions() {
        List<RowFilter> all = filters.stream()
                .filter(f -> !(f instanceof RowFilter.Partition))
                .toList();
        return new TableShape(name, view, columns, keys, foreignKeys, sideEffects, query, all, position);
    }

    /** The same table with a computed column, in the place of one of its name or behind all others. */
    public TableShape with(ColumnShape computed) {
        List<ColumnShape> all = new ArrayList<>(columns);
        int place = column(computed.name()).map(all::indexOf).orElse(all.size());
        if (place < all.size()) {
            all.remove(place);
        }
        all.add(place, computed);
        return new TableShape(name, view, all, keys, foreignKeys, sideEffects, query, filters, position);
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
                                .allMatch(c -> column(c)
                                        .filter(known -> known.expression().isEmpty())
                                        .filter(known -> key.primary() || !known.nullable())
                                        .isPresent()));
    }

    /** Whether rows refer to others of the same table. */
    public boolean refersToItself() {
        return foreignKeys.stream().anyMatch(f -> f.parent().name().equalsIgnoreCase(name.name()));
    }
}
