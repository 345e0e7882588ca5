package sharptally.core.match;

import java.util.List;
import java.util.Map;

/**
 * What the user says of one match; what is left empty is proposed from the two tables.
 *
 * @param key source names of the key's columns; empty to choose one
 * @param columns source name to target name, for columns whose names differ
 * @param leaveOut names of columns, of either side, that are not to be compared
 */
public record MatchWish(
        String source, String target, List<String> key, Map<String, String> columns, List<String> leaveOut) {
    public MatchWish {
        key = List.copyOf(key);
        columns = Map.copyOf(columns);
        leaveOut = List.copyOf(leaveOut);
    }
}
