package sharptally.engines.jdbc;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import sharptally.core.rows.Column;
import sharptally.core.rows.RowImages;
import sharptally.core.shape.ColumnShape;

/** Reads the rows of a query other than through a result set. Immutable. */
public interface BulkReading {
    /** Whether the connection lets us read in this way. */
    boolean isAllowed(Connection connection);

    /** Starts the query. */
    Stream open(Connection connection, String sql, List<ColumnShape> columns) throws SQLException;

    /** In which form rows are sent; equal bytes of one form are equal rows, if their columns have equal types. */
    String form();

    /** A query being read. Used by one thread, but for {@link #cancel}. */
    interface Stream {
        /** Appends one row, a cell to each column; false at the end. */
        boolean next(Column[] columns) throws SQLException;

        /**
         * Appends one row with its image, and a cell to each column that is not {@code null}; false at the end.
         *
         * @throws IllegalStateException where {@link #decoder} is empty
         */
        default boolean next(Column[] columns, RowImages images) throws SQLException {
            throw new IllegalStateException("rows come without images");
        }

        /** What makes cells of an image; empty where rows come without one. */
        default Optional<RowImages.Decoder> decoder() {
            return Optional.empty();
        }

        /** Ends the query without draining it. */
        void cancel() throws SQLException;
    }
}
