package sharptally.core.sql;

/** How an engine changes many rows of a table by rows that stand in another one. */
public enum SetForm {
    /** {@code UPDATE t SET … FROM s WHERE …}, and {@code INSERT … ON CONFLICT (…) DO UPDATE}. */
    FROM,
    /** {@code UPDATE t JOIN s ON … SET …}, and {@code INSERT … ON DUPLICATE KEY UPDATE}. */
    JOIN,
    /** The standard's {@code MERGE INTO t USING s ON …}. */
    MERGE,
    /** The same, in which no column may be changed by which rows are found: {@code … WHEN MATCHED THEN UPDATE SET … WHERE …}. */
    MERGE_WHERE
}
