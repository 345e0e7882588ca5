package sharptally.api;

/** Follows a job. Called by its worker threads, one call at a time for each table. */
public interface ProgressListener {
    /**
     * @param expectedRows about how many rows the source has; -1 where that is not known
     */
    default void begins(String table, long expectedRows) {}

    /** Rows of either side that were compared so far. */
    default void compared(String table, long sourceRows, long targetRows) {}

    default void ends(String table) {}
}
