package sharptally.engines.jdbc.catalogue;

import java.sql.SQLException;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import sharptally.core.shape.SideEffects.Reaction;
import sharptally.core.shape.TableName;

/** Reads from a catalogue what foreign keys of other tables do when rows of a table go. */
public final class Reactions {
    private Reactions() {}

    /** Makes the name of a table of its schema, which may be empty, and its own. */
    @FunctionalInterface
    public interface Naming {
        TableName name(String schema, String table);
    }

    /**
     * @param query gives for each column of each such key: the key's name, the schema and name of the table that refers,
     *     its column, the column referred to, and the rule, such as {@code CASCADE}; in the order of the columns in the key
     * @return by the table whose rows go
     */
    public static Map<String, List<Reaction>> read(Asked asked, Naming naming, String query) throws SQLException {
        record Part(String key, TableName table, String column, String referred, boolean deletes) {}
        Map<String, List<Reaction>> all = new HashMap<>();
        asked.read(
                        query,
                        row -> new Part(
                                row.getString(1),
                                naming.name(row.getString(2), row.getString(3)),
                                row.getString(4),
                                row.getString(5),
                                row.getString(6).equals("CASCADE")))
                .forEach((table, parts) -> all.put(
                        table,
                        Grouped.by(parts, Part::key).stream()
                                .map(key -> new Reaction(
                                        key.get(0).table(),
                                        key.stream().map(Part::column).toList(),
                                        key.stream().map(Part::referred).toList(),
                                        key.get(0).deletes()))
                                .toList()));
        return all;
    }
}
