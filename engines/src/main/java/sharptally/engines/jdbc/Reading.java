package sharptally.engines.jdbc;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.util.Optional;
import sharptally.core.place.part.Seek;
import sharptally.core.shape.ColumnShape;

/** How rows of one engine are read. Immutable. */
public interface Reading {
    /** What stands in the select list for a column. */
    String selectTerm(ColumnShape column);

    /** What stands in ORDER BY for a column: ascending, NULL first, text in binary order where the engine can. */
    String orderTerm(ColumnShape column);

    /**
     * The condition that a column stands so to a literal in the order of {@link #orderTerm}.
     *
     * @param operator {@code <}, {@code <=}, {@code =}, {@code >=} or {@code >}
     */
    String compared(ColumnShape column, String operator, String literal);

    /** The same by what values mean, of however many forms an engine lets one be; no index need serve it. */
    default String meets(ColumnShape column, String operator, String literal) {
        return compared(column, operator, literal);
    }

    /** How rows are found by {@link #compared} conditions on a column that has an index. */
    Seek seek(ColumnShape column);

    CellReader reader(ColumnShape column);

    /** The query, with no more than so many rows in its result, the first ones passed over. */
    String limited(String sql, long rows, long skipped);

    /** A statement whose result comes row by row and is never held whole; the caller closes it. */
    PreparedStatement openForStreaming(Connection connection, String sql) throws SQLException;

    /**
     * Whether an index serves whole rows of a key: one comparison of them, as {@code (a, b) >= (1, 2)}, is a range of it, and
     * they are numbered in its order without being sorted.
     */
    default boolean indexServesRows() {
        return false;
    }

    /** Whether the server behind a connection can number rows in an order. */
    default boolean numbersRows(Connection connection) throws SQLException {
        return true;
    }

    /** A condition that holds for about this share of all rows, for each by chance; empty where there is no such thing. */
    default Optional<String> byChance(double share) {
        return Optional.empty();
    }

    /** A way to read that is faster than a result set, if the engine has one. */
    Optional<BulkReading> bulk();
}
