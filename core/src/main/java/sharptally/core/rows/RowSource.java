package sharptally.core.rows;

import java.util.Optional;

/** Rows of one side, read once from first to last. Used by one thread at a time. */
public interface RowSource extends AutoCloseable {
    /**
     * The next rows, at least one; empty at the end, and ever after.
     *
     * @throws sharptally.core.fault.ToolException when reading fails
     */
    Optional<RowBatch> next();

    /** Ends reading at once, without draining what is left. Safe to call twice, and from another thread. */
    @Override
    void close();
}
