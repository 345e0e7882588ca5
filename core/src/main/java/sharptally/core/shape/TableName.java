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

    @Override
    public String toString() {
        return schema.map(s -> s + "." + name).orElse(name);
    }
}
