package sharptally.engines.jdbc.catalogue;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import sharptally.core.shape.SideEffects.Reaction;
import sharptally.core.shape.TableName;
import sharptally.engines.jdbc.Rows;

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
     */
    public static List<Reaction> read(Connection connection, Naming naming, String query, String... which)
            throws SQLException {
        record Part(TableName table, String column, String referred, boolean deletes) {}
        Map<String, List<Part>> keys = new LinkedHashMap<>();
        Rows.read(
                connection,
                query,
                row -> keys.computeIfAbsent(row.getString(1), k -> new ArrayList<>())
                        .add(new Part(
                                naming.name(row.getString(2), row.getString(3)),
                                row.getString(4),
                                row.getString(5),
                                row.getString(6).equals("CASCADE"))),
                which);
        return keys.values().stream()
                .map(parts -> new Reaction(
                        parts.get(0).table(),
                        parts.stream().map(Part::column).toList(),
                        parts.stream().map(Part::referred).toList(),
                        parts.get(0).deletes()))
                .toList();
    }
}
