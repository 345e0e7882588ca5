package sharptally.spark.work;

import java.util.BitSet;
import java.util.List;
import java.util.function.Function;
import java.util.stream.IntStream;
import org.apache.spark.broadcast.Broadcast;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Side;
import sharptally.core.rows.Column;
import sharptally.core.rows.RowBatch;

/** Rows in slices of the key that are left. */
public record LeftSlices(Broadcast<KeyBounds> bounds, Broadcast<BitSet> left) implements Picking {
    @Override
    public Function<RowBatch, int[]> chooser(TableMatch match, Side side) {
        KeyForms forms = new KeyForms(match, side);
        KeyBounds.Finder finder = bounds.value().finder();
        return batch -> {
            List<Column> keys = forms.of(batch);
            return IntStream.range(0, batch.rows())
                    .filter(row -> left.value().get(finder.part(keys, row)))
                    .toArray();
        };
    }
}
