package sharptally.core.shape;

import java.util.List;
import java.util.Optional;

/**
 * How a database divides a table by a column.
 *
 * @param column by whose values; empty where it can't be told
 * @param parts with the values that each holds; one that holds what no other does is none of them
 * @param untold why nothing of it can be said in terms of values; empty where all is told
 */
public record Partitioning(String column, List<Part> parts, String untold) {
    public Partitioning {
        parts = List.copyOf(parts);
    }

    /** Of which no more is known than that there is one. */
    public static Partitioning untold(String why) {
        return new Partitioning("", List.of(), why);
    }

    /**
     * A partition; its values as its database writes them.
     *
     * @param name as it is told from the others of its table
     * @param nulls whether rows without a value are in it
     */
    public record Part(String name, List<Values> values, boolean nulls) {
        public Part {
            values = List.copyOf(values);
        }
    }

    /**
     * Values of a part: all from one on up to but without another, or where {@code one} this alone.
     *
     * @param from empty where there is no least one
     * @param to empty where there is no greatest one
     */
    public record Values(Optional<String> from, Optional<String> to, boolean one) {
        /** One value. */
        public static Values of(String value) {
            return new Values(Optional.of(value), Optional.of(value), true);
        }
    }
}
