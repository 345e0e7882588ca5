package sharptally.core.script;

import java.util.List;
import java.util.OptionalLong;
import sharptally.core.script.Change.Field;

/**
 * What tells that a change was made.
 *
 * @param weight of how many rows
 * @param there whether a row that holds the fields must be there, or none
 * @param not what that row must not hold, as far as the engine may take both for the same; else empty
 * @param exactly how many rows must hold the fields; empty where a key sees to it that there is one at most
 */
public record Mark(long weight, boolean there, List<Field> held, List<Field> not, OptionalLong exactly) {
    /** Of rows that nothing tells from others like them. */
    static Mark untold(long rows) {
        return new Mark(rows, false, List.of(), List.of(), OptionalLong.empty());
    }

    public boolean told() {
        return !held.isEmpty();
    }
}
