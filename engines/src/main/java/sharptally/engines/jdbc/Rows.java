package sharptally.engines.jdbc;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;

/** Short catalogue queries, read whole. */
public final class Rows {
    /** Makes something of the current row. */
    @FunctionalInterface
    public interface Reader<T> {
        T read(ResultSet row) throws SQLException;
    }

    private Rows() {}

    /** One element per row, in the order of the result. */
    public static <T> List<T> read(Connection connection, String sql, Reader<T> reader, String... binds)
            throws SQLException {
        try (PreparedStatement statement = connection.prepareStatement(sql)) {
            for (int i = 0; i < binds.length; i++) {
                statement.setString(i + 1, binds[i]);
            }
            try (ResultSet result = statement.executeQuery()) {
                List<T> rows = new ArrayList<>();
                while (result.next()) {
                    rows.add(reader.read(result));
                }
                return rows;
            }
        }
    }
}
