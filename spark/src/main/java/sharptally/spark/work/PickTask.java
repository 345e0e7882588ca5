package sharptally.spark.work;

import java.util.ArrayDeque;
import java.util.Iterator;
import java.util.List;
import java.util.NoSuchElementException;
import java.util.Optional;
import java.util.Queue;
import java.util.stream.IntStream;
import org.apache.spark.broadcast.Broadcast;
import org.jspecify.annotations.Nullable;
import scala.Tuple2;
import sharptally.core.compare.record.RowHashing;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Side;
import sharptally.core.rows.Column;
import sharptally.core.rows.RecordHash;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowPack;
import sharptally.core.rows.RowSource;

/**
 * Sends rows to the part to which their key belongs: all of them, or those whose keys are left.
 *
 * @param hash by which the keys were hashed
 * @param left the keys that are left; {@code null} where all rows are sent
 */
public record PickTask(
        SentMatch sent,
        Side side,
        RecordHash hash,
        @Nullable Broadcast<KeySet> left,
        KeyBounds bounds) implements Task {
    private static final int MIN_PACK = 1 << 12;
    private static final int MAX_PACK = 1 << 18;
    /** Of all packs that are being filled, about. */
    private static final int MAX_HELD = 1 << 25;

    @Override
    public Iterator<Tuple2<Integer, byte[]>> of(RowSource rows) {
        return new Picked(rows);
    }

    private final class Picked implements Iterator<Tuple2<Integer, byte[]>> {
        private final RowSource rows;
        private final RowHashing hashing;
        private final KeyForms forms;
        private final KeyBounds.Finder finder = bounds.finder();
        private final RowPack[] packs = new RowPack[finder.parts()];
        private final int packSize = Math.max(MIN_PACK, Math.min(MAX_PACK, MAX_HELD / packs.length));
        private final Queue<Tuple2<Integer, byte[]>> ready = new ArrayDeque<>();
        private boolean ended;

        Picked(RowSource rows) {
            this.rows = rows;
            TableMatch match = sent.read();
            this.hashing = new RowHashing(match, side, SentMatch.merge(match), hash);
            this.forms = new KeyForms(match, side);
            for (int i = 0; i < packs.length; i++) {
                packs[i] = new RowPack();
            }
        }

        @Override
        public boolean hasNext() {
            while (ready.isEmpty() && !ended) {
                Optional<RowBatch> batch = rows.next();
                batch.ifPresentOrElse(this::pick, this::end);
                ended = batch.isEmpty();
            }
            return !ready.isEmpty();
        }

        private void pick(RowBatch batch) {
            int[] wanted = left == null
                    ? IntStream.range(0, batch.rows()).toArray()
                    : hashing.wanted(batch, left.value()::holds);
            if (wanted.length == 0) {
                return;
            }
            List<Column> keys = forms.of(batch);
            List<Column> columns = batch.columns();
            for (int row : wanted) {
                int part = finder.part(keys, row);
                packs[part].add(columns, row);
                if (packs[part].size() >= packSize) {
                    ready.add(new Tuple2<>(part, packs[part].take()));
                }
            }
        }

        private void end() {
            for (int part = 0; part < packs.length; part++) {
                if (packs[part].size() > 0) {
                    ready.add(new Tuple2<>(part, packs[part].take()));
                }
            }
        }

        @Override
        public Tuple2<Integer, byte[]> next() {
            if (!hasNext()) {
                throw new NoSuchElementException();
            }
            return ready.remove();
        }
    }
}
