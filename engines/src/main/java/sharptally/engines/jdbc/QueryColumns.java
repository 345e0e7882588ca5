package sharptally.engines.jdbc;

import java.sql.Connection;
import java.sql.ResultSetMetaData;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Generation;
import sharptally.core.types.CanonicalType;

/** The columns of a query, by what its result tells of them. */
public final class QueryColumns {
    /** Makes a column's shape of what a result tells of it. */
    @FunctionalInterface
    public interface Maker {
        ColumnShape make(ResultSetMetaData metadata, int column) throws SQLException;
    }

    private QueryColumns() {}

    /** One shape per column, in their order; no row is read. */
    public static List<ColumnShape> of(Connection connection, String query, Maker maker) throws SQLException {
        // A condition that no row meets: some drivers tell types only of a query that they have run.
        String none = "SELECT * FROM (" + query + "\n) tally_described WHERE 1 = 0";
        try (var statement = connection.prepareStatement(none);
                var result = statement.executeQuery()) {
            ResultSetMetaData metadata = result.getMetaData();
            List<ColumnShape> columns = new ArrayList<>();
            for (int i = 1; i <= metadata.getColumnCount(); i++) {
                columns.add(maker.make(metadata, i));
            }
            return columns;
        }
    }

    /** A column of a query: nothing is known of NULL, and it can't be written. */
    public static ColumnShape column(
            String name, String declared, Optional<CanonicalType> type, Optional<String> collation) {
        return new ColumnShape(name, declared, type, true, Generation.COMPUTED, collation);
    }
}
