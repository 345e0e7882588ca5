package sharptally.spark.work;

import java.util.ArrayDeque;
import java.util.Iterator;
import java.util.List;
import java.util.NoSuchElementException;
import java.util.Optional;
import java.util.Queue;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import scala.Tuple2;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Side;
import sharptally.core.rows.Column;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowPack;
import sharptally.core.rows.RowSource;
import sharptally.spark.lake.LakeBatches;
import sharptally.spark.rows.Task;

/**
 * Sends rows to the part to which their key belongs: all of them, or some.
 *
 * @param picking which ones; {@code null} for all
 */
public record PickTask(SentMatch sent, Side side, @Nullable Picking picking, KeyBounds bounds) implements Task {
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
        private final Optional<Function<RowBatch, int[]>> chooser;
        private final KeyForms forms;
        private final KeyBounds.Finder finder = bounds.finder();
        private final RowPack[] packs = new RowPack[finder.parts()];
        private final int packSize = Math.max(MIN_PACK, Math.min(MAX_PACK, MAX_HELD / packs.length));
        private final Queue<Tuple2<Integer, byte[]>> ready = new ArrayDeque<>();
        private boolean ended;

        Picked(RowSource rows) {
            this.rows = rows;
            TableMatch match = sent.read();
            this.chooser = Optional.ofNullable(picking).map(p -> p.chooser(match, side));
            this.forms = new KeyForms(match, side);
            for (int i = 0; i < packs.length; i++) {
                packs[i] = new RowPack();
            }
        }

        @Override
        public boolean hasNext() {
            while (ready.isEmpty() && !ended) {
                Optional<RowBatch> batch = nextBatch();
                batch.ifPresentOrElse(this::send, this::end);
                ended = batch.isEmpty();
            }
            return !ready.isEmpty();
        }

        private Optional<RowBatch> nextBatch() {
            if (chooser.isEmpty()) {
                return rows.next();
            }
            return rows instanceof LakeBatches files
                    ? files.next(forms.pairs(), chooser.get())
                    : rows.next().map(batch -> batch.only(chooser.get().apply(batch)));
        }

        private void send(RowBatch batch) {
            List<Column> keys = forms.of(batch);
            List<Column> columns = batch.columns();
            for (int row = 0; row < batch.rows(); row++) {
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
