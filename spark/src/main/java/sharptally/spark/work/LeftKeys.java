package sharptally.spark.work;

import java.util.function.Function;
import org.apache.spark.broadcast.Broadcast;
import sharptally.core.compare.record.RowHashing;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Side;
import sharptally.core.rows.RecordHash;
import sharptally.core.rows.RowBatch;

/**
 * Rows whose keys are left, and those without a key.
 *
 * @param hash by which the keys were hashed
 */
public record LeftKeys(RecordHash hash, Broadcast<KeySet> left) implements Picking {
    @Override
    public Function<RowBatch, int[]> chooser(TableMatch match, Side side) {
        RowHashing hashing = new RowHashing(match, side, SentMatch.merge(match), hash);
        return batch -> hashing.wanted(batch, left.value()::holds);
    }
}
