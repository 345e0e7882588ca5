package sharptally.engines.jdbc.catalogue;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import sharptally.engines.jdbc.Rows;

/**
 * What a catalogue is asked about: one table, or all tables of a schema at once, which takes no more questions.
 *
 * <p>Queries name the table that a row tells of in a column {@value #COLUMN}, and have it as the condition
 * {@code AND column = :table}.
 *
 * @param table empty to ask about all
 * @param schema what is bound before it, if anything
 */
public record Asked(Connection connection, Optional<String> table, Optional<String> schema) {
    /** The column that names the table. */
    public static final String COLUMN = "of_table";

    private static final Pattern CONDITION = Pattern.compile("AND (\\S+) = :table");

    /** What the rows of a query tell, in their order, by the table that they tell of. */
    public <T> Map<String, List<T>> read(String query, Rows.Reader<T> reader) throws SQLException {
        record Told<T>(String table, T what) {}
        String sql = CONDITION.matcher(query).replaceAll(table.isPresent() ? "AND $1 = ?" : "");
        Map<String, List<T>> told = new LinkedHashMap<>();
        Rows.read(
                        connection,
                        sql,
                        row -> new Told<>(table.isPresent() ? table.get() : row.getString(COLUMN), reader.read(row)),
                        Stream.concat(schema.stream(), table.stream()).toArray(String[]::new))
                .forEach(row -> told.computeIfAbsent(row.table(), t -> new ArrayList<>())
                        .add(row.what()));
        return told;
    }
}
