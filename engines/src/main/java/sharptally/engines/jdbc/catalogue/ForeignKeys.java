package sharptally.engines.jdbc.catalogue;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import sharptally.core.shape.ForeignKey;
import sharptally.core.shape.TableName;
import sharptally.engines.jdbc.Rows;

/** Reads from a catalogue to which tables a table refers. */
public final class ForeignKeys {
    private ForeignKeys() {}

    /**
     * @param query gives for each column of each key: the key's name, the column, the schema and name of the table that is
     *     referred to, and its column; in the order of the columns in the key
     */
    public static List<ForeignKey> read(Connection connection, Reactions.Naming naming, String query, String... which)
            throws SQLException {
        record Part(String column, TableName parent, String referred) {}
        Map<String, List<Part>> keys = new LinkedHashMap<>();
        Rows.read(
                connection,
                query,
                row -> keys.computeIfAbsent(row.getString(1), k -> new ArrayList<>())
                        .add(new Part(
                                row.getString(2), naming.name(row.getString(3), row.getString(4)), row.getString(5))),
                which);
        return keys.values().stream()
                .map(parts -> new ForeignKey(
                        parts.stream().map(Part::column).toList(),
                        parts.get(0).parent(),
                        parts.stream().map(Part::referred).toList()))
                .toList();
    }
}
