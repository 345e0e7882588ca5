package sharptally.core.shape;

import java.util.Optional;
import sharptally.core.types.CanonicalType;

/**
 * One column as its database declares it.
 *
 * @param declaredType the type in the engine's own words, with length and scale
 * @param type what it holds in common terms; empty when its values can't be compared faithfully
 * @param collation the collation's name where one other than the engine's binary order is declared
 */
public record ColumnShape(
        String name,
        String declaredType,
        Optional<CanonicalType> type,
        boolean nullable,
        Generation generation,
        Optional<String> collation) {

    /** Whether a statement may give this column a value. */
    public boolean writable() {
        return generation != Generation.COMPUTED;
    }
}
