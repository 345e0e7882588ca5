package sharptally.core.place.part;

import java.util.List;
import sharptally.core.sql.SqlText;

/** Changes against a target, in one transaction after the other. Used by one thread. */
public interface ChangeSession extends AutoCloseable {
    /**
     * Runs changes in order, those of the same text together.
     *
     * @return rows touched by each
     * @throws RefusedChange when the database refuses one of them; nothing since the last commit is kept then
     */
    long[] execute(List<SqlText> changes);

    /**
     * Runs one change.
     *
     * @return rows touched
     * @throws sharptally.core.fault.ToolException when the database refuses it; nothing since the last commit is kept then
     */
    default long execute(SqlText change) {
        try {
            return execute(List.of(change))[0];
        } catch (RefusedChange e) {
            throw e.failure();
        }
    }

    /**
     * Runs a statement that changes no row of a table that was compared.
     *
     * @throws RefusedChange when the database refuses it
     */
    void set(String statement);

    /**
     * What a query counts, within the transaction.
     *
     * @param query of one row with one whole number
     */
    long count(String query);

    /**
     * Runs one statement that is to touch so many rows.
     *
     * @return whether it did; if not, whatever it did is taken back
     * @throws RefusedChange when the connection broke, or all should be tried again
     */
    boolean executeTogether(SqlText statement, long rows);

    /**
     * Makes all changes lasting.
     *
     * @throws sharptally.core.fault.ToolException as {@code BROKEN} when the connection broke meanwhile, so that it is not
     *     known whether they are; as {@code REFUSED} when they are not
     */
    void commit();

    /** Takes all changes since the last commit back. */
    void rollback();

    /** Rolls back whatever was not committed. Safe to call twice. */
    @Override
    void close();
}
