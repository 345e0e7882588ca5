package sharptally.core.shape;

import java.util.Optional;
import sharptally.core.types.CanonicalType;

/**
 * One column as its database declares it.
 *
 * @param declaredType the type in the engine's own words, with length and scale
 * @param type what it holds in common terms; empty when its values can't be compared faithfully
 * @param collation the collation's name where one other than the engine's binary order is declared
 * @param expression the SQL by which the column is computed while it is read; empty for a column that the table has
 */
public record ColumnShape(
        String name,
        String declaredType,
        Optional<CanonicalType> type,
        boolean nullable,
        Generation generation,
        Optional<String> collation,
        Optional<String> expression) {
    /** The collation of PostgreSQL that orders texts by their bytes, and so holds no different ones equal. */
    public static final String BY_BYTES = "C";

    /** A column that the table has. */
    public ColumnShape(
            String name,
            String declaredType,
            Optional<CanonicalType> type,
            boolean nullable,
            Generation generation,
            Optional<String> collation) {
        this(name, declaredType, type, nullable, generation, collation, Optional.empty());
    }

    /** A column of this type that is computed while it is read, and so can't be written. */
    public ColumnShape computedBy(String newName, String sql) {
        return new ColumnShape(newName, declaredType, type, true, Generation.COMPUTED, collation, Optional.of(sql));
    }

    /** The column as it is before it is said what its writing is read as. */
    public ColumnShape asDescribed() {
        return type.filter(CanonicalType::isWritten).isPresent() ? read(CanonicalType.written()) : this;
    }

    /** The same column, whose values are read as this. */
    public ColumnShape read(CanonicalType as) {
        return new ColumnShape(name, declaredType, Optional.of(as), nullable, generation, collation, expression);
    }

    /** Whether its collation may hold texts of different bytes equal. */
    public boolean isLoose() {
        return collation.filter(name -> !name.equals(BY_BYTES)).isPresent();
    }

    /** Whether a statement may give this column a value. */
    public boolean writable() {
        return generation != Generation.COMPUTED;
    }
}
