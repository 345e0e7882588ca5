package sharptally.core.place;

import sharptally.core.sql.SqlText;

/** One transaction of changes against a target. Used by one thread. */
public interface ChangeSession extends AutoCloseable {
    /**
     * Runs one change.
     *
     * @return rows touched
     * @throws sharptally.core.fault.ToolException when the database refuses it; nothing has been committed then
     */
    long execute(SqlText change);

    /** Makes all changes lasting. */
    void commit();

    /** Rolls back whatever was not committed. Safe to call twice. */
    @Override
    void close();
}
