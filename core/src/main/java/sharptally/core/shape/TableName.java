package sharptally.core.shape;

import java.util.List;
import java.util.Optional;

/** A table, view or like thing as its own database names it. */
public record TableName(Optional<String> schema, String name) {
    public static TableName of(String name) {
        return new TableName(Optional.empty(), name);
    }

    public static TableName of(String schema, String name) {
        return new TableName(Optional.of(schema), name);
    }

    /**
     * Whether users mean this table by a name, letter case aside: its bare one, or with its schema.
     *
     * @param ownSchema the schema whose tables go by their bare names
     */
    public boolean isCalled(String wanted, String ownSchema) {
        return name.equalsIgnoreCase(wanted) || (schema.orElse(ownSchema) + "." + name).equalsIgnoreCase(wanted);
    }

    /**
     * The tables that users mean by a name: the one of exactly this name, else all of which {@link #isCalled} holds.
     *
     * @param ownSchema the schema whose tables go by their bare names
     */
    public static List<TableName> called(List<TableName> tables, String wanted, String ownSchema) {
        List<TableName> exact =
                tables.stream().filter(t -> t.toString().equals(wanted)).toList();
        return exact.isEmpty()
                ? tables.stream().filter(t -> t.isCalled(wanted, ownSchema)).toList()
                : exact;
    }

    @Override
    public String toString() {
        return schema.map(s -> s + "." + name).orElse(name);
    }
}
