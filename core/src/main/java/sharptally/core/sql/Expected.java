package sharptally.core.sql;

import java.util.Optional;

/**
 * How many rows a statement of a script must touch.
 *
 * @param toDo an expression: 1 where the script is to change anything, 0 where all was done before; empty where that is not
 *     looked for
 */
public record Expected(long rows, Optional<String> toDo) {
    /** As an expression. */
    public String sql() {
        return toDo.map(t -> rows == 1 ? t : rows + " * " + t).orElse(Long.toString(rows));
    }
}
