package sharptally.core.place;

import java.util.Map;
import java.util.Optional;

/**
 * Rows of a place as the user asks for them: those of a table, view or query, maybe not all, maybe with columns that
 * are computed while they are read.
 *
 * @param name the table's name; with a query, the name by which its rows go
 * @param query SQL whose rows are taken instead of a table's
 * @param where a condition in SQL; rows that do not meet it are not read
 * @param computed SQL expressions by the name of the column that they make, or take the place of
 */
public record Extract(String name, Optional<String> query, Optional<String> where, Map<String, String> computed) {
    public Extract {
        computed = Map.copyOf(computed);
    }

    /** All rows of a table or view. */
    public static Extract ofTable(String name) {
        return new Extract(name, Optional.empty(), Optional.empty(), Map.of());
    }
}
