package sharptally.engines.jdbc.catalogue;

import java.sql.SQLException;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import sharptally.core.shape.ForeignKey;
import sharptally.core.shape.TableName;

/** Reads from a catalogue to which tables a table refers. */
public final class ForeignKeys {
    private ForeignKeys() {}

    /**
     * @param query gives for each column of each key: the key's name, the column, the schema and name of the table that is
     *     referred to, and its column; in the order of the columns in the key
     * @return by table
     */
    public static Map<String, List<ForeignKey>> read(Asked asked, Reactions.Naming naming, String query)
            throws SQLException {
        record Part(String key, String column, TableName parent, String referred) {}
        Map<String, List<ForeignKey>> all = new HashMap<>();
        asked.read(
                        query,
                        row -> new Part(
                                row.getString(1),
                                row.getString(2),
                                naming.name(row.getString(3), row.getString(4)),
                                row.getString(5)))
                .forEach((table, parts) -> all.put(
                        table,
                        Grouped.by(parts, Part::key).stream()
                                .map(key -> new ForeignKey(
                                        key.stream().map(Part::column).toList(),
                                        key.get(0).parent(),
                                        key.stream().map(Part::referred).toList()))
                                .toList()));
        return all;
    }
}
