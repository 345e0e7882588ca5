package sharptally.engines.jdbc;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.List;
import sharptally.core.rows.Column;
import sharptally.core.shape.ColumnShape;

/** Reads the rows of a query other than through a result set. Immutable. */
public interface BulkReading {
    /** Whether the connection lets us read in this way. */
    boolean isAllowed(Connection connection);

    /** Starts the query. */
    Stream open(Connection connection, String sql, List<ColumnShape> columns) throws SQLException;

    /** A query being read. Used by one thread, but for {@link #cancel}. */
    interface Stream {
        /** Appends one row, a cell to each column; false at the end. */
        boolean next(Column[] columns) throws SQLException;

        /** Ends the query without draining it. */
        void cancel() throws SQLException;
    }
}
