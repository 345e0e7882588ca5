package sharptally.engines.jdbc;

import java.sql.ResultSet;
import java.sql.SQLException;
import sharptally.core.rows.Column;

/** Appends one value of the current row to a column, exactly as the database holds it. */
@FunctionalInterface
public interface CellReader {
    /**
     * @param index place of the value in the result, from 1
     */
    void read(ResultSet row, int index, Column into) throws SQLException;
}
