package sharptally.spark.work;

import java.util.ArrayDeque;
import java.util.Iterator;
import java.util.NoSuchElementException;
import java.util.Optional;
import java.util.Queue;
import scala.Tuple2;
import sharptally.core.compare.record.RowHashing;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Side;
import sharptally.core.rows.RecordHash;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowSource;
import sharptally.spark.rows.Task;

/**
 * Hashes rows of one side.
 *
 * @param hash the same for both sides
 * @param parts into how many parts all rows go
 */
public record HashTask(SentMatch sent, Side side, RecordHash hash, int parts) implements Task {
    @Override
    public Iterator<Tuple2<Integer, byte[]>> of(RowSource rows) {
        TableMatch match = sent.read();
        RowHashing hashing = new RowHashing(match, side, SentMatch.merge(match), hash);
        HashChunks chunks = new HashChunks(side, parts);
        Queue<Tuple2<Integer, byte[]>> ready = new ArrayDeque<>();
        return new Iterator<>() {
            private boolean ended;

            @Override
            public boolean hasNext() {
                while (ready.isEmpty() && !ended) {
                    Optional<RowBatch> batch = rows.next();
                    batch.ifPresentOrElse(b -> hashing.hash(b, chunks), chunks::end);
                    ended = batch.isEmpty();
                    ready.addAll(chunks.full());
                }
                return !ready.isEmpty();
            }

            @Override
            public Tuple2<Integer, byte[]> next() {
                if (!hasNext()) {
                    throw new NoSuchElementException();
                }
                return ready.remove();
            }
        };
    }
}
