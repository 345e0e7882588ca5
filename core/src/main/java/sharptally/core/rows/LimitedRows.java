package sharptally.core.rows;

import java.util.Optional;
import java.util.OptionalLong;
import java.util.stream.IntStream;

/** Some of the rows of another source: without the first ones, and no more than so many. */
public final class LimitedRows implements RowSource {
    private final RowSource rows;
    private long skip;
    private long left;

    /**
     * @param skip how many are passed over
     * @param limit how many come at most; empty for all
     */
    public LimitedRows(RowSource rows, long skip, OptionalLong limit) {
        this.rows = rows;
        this.skip = skip;
        this.left = limit.orElse(Long.MAX_VALUE);
    }

    @Override
    public Optional<RowBatch> next() {
        while (left > 0) {
            Optional<RowBatch> batch = rows.next();
            if (batch.isEmpty()) {
                return batch;
            }
            int size = batch.get().rows();
            int from = (int) Math.min(size, skip);
            int to = (int) Math.min(size, from + left);
            skip -= from;
            left -= to - from;
            if (from < to) {
                return to - from == size
                        ? batch
                        : Optional.of(batch.get().only(IntStream.range(from, to).toArray()));
            }
        }
        return Optional.empty();
    }

    @Override
    public void close() {
        rows.close();
    }
}
