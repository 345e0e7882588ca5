package sharptally.core.shape;

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

    @Override
    public String toString() {
        return schema.map(s -> s + "." + name).orElse(name);
    }
}
