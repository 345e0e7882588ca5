package sharptally.spark.work;

import java.util.Iterator;
import java.util.List;
import java.util.Optional;
import scala.Tuple2;
import sharptally.core.place.Side;
import sharptally.core.rows.Column;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowPack;
import sharptally.core.rows.RowSource;
import sharptally.spark.rows.Task;

/**
 * Takes some keys from the first rows of a partition.
 *
 * @param count how many at most
 */
public record SampleTask(SentMatch sent, Side side, int count) implements Task {
    @Override
    public Iterator<Tuple2<Integer, byte[]>> of(RowSource rows) {
        Optional<RowBatch> first = rows.next();
        if (first.isEmpty()) {
            return List.<Tuple2<Integer, byte[]>>of().iterator();
        }
        RowPack pack = new RowPack();
        List<Column> keys = new KeyForms(sent.read(), side).of(first.get());
        int wanted = Math.min(count, first.get().rows());
        for (int i = 0; i < wanted; i++) {
            pack.add(keys, (int) ((long) i * first.get().rows() / wanted));
        }
        rows.close();
        return List.of(new Tuple2<>(0, pack.take())).iterator();
    }
}
