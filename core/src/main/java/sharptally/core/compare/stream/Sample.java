package sharptally.core.compare.stream;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.IntStream;
import sharptally.core.checksum.RowHash;
import sharptally.core.place.Side;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowSource;
import sharptally.core.types.Value;

/**
 * A sample of rows, chosen by the hash of their keys in the common form, so that both sides choose the same keys.
 *
 * @param shares how many of the shares of all hashes are in it
 * @param ofShares how many shares there are, a power of two
 * @param here the sides whose rows are chosen by this program, as their database can't
 */
public record Sample(long shares, long ofShares, Set<Side> here) {
    public Sample {
        here = Set.copyOf(here);
    }

    /** The rows of a side that are in the sample. */
    RowSource of(RowSource rows, Side side, int[] key) {
        return here.contains(side) ? new Chosen(rows, this, key) : rows;
    }

    /**
     * @param key places of the key among the compared columns
     */
    private record Chosen(RowSource rows, Sample sample, int[] key) implements RowSource {
        @Override
        public Optional<RowBatch> next() {
            for (Optional<RowBatch> batch = rows.next(); batch.isPresent(); batch = rows.next()) {
                RowBatch chosen = chosen(batch.get());
                if (chosen.rows() > 0) {
                    return Optional.of(chosen);
                }
            }
            return Optional.empty();
        }

        private RowBatch chosen(RowBatch batch) {
            RowHash hash = new RowHash();
            int[] wanted = IntStream.range(0, batch.rows())
                    .filter(row -> {
                        List<Value> values = IntStream.of(key)
                                .mapToObj(k -> batch.compared(k).value(row))
                                .toList();
                        return (hash.of(values) & (sample.ofShares - 1)) < sample.shares;
                    })
                    .toArray();
            return batch.only(wanted);
        }

        @Override
        public void close() {
            rows.close();
        }
    }
}
