package sharptally.spark.sums;

import java.util.Iterator;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import org.apache.spark.broadcast.Broadcast;
import scala.Tuple2;
import sharptally.core.checksum.RowHash;
import sharptally.core.match.ColumnPair;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Side;
import sharptally.core.range.RangeSum;
import sharptally.core.rows.Cast;
import sharptally.core.rows.Column;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowSource;
import sharptally.core.types.Kind;
import sharptally.spark.rows.Task;
import sharptally.spark.work.KeyBounds;
import sharptally.spark.work.KeyForms;
import sharptally.spark.work.SentMatch;

/** Checksums of rows in the common form, by slices of the key. */
public record SumRowsTask(SentMatch sent, Side side, Broadcast<KeyBounds> bounds) implements Task {
    @Override
    public Iterator<Tuple2<Integer, byte[]>> of(RowSource rows) {
        TableMatch match = sent.read();
        KeyForms forms = new KeyForms(match, side);
        KeyBounds.Finder finder = bounds.value().finder();
        List<Cast> casts = match.pairs().stream().map(this::cast).toList();
        RowHash hash = new RowHash();
        SliceSums sums = new SliceSums(finder.parts());
        for (Optional<RowBatch> batch = rows.next(); batch.isPresent(); batch = rows.next()) {
            RowBatch read = batch.get();
            List<Column> keys = forms.of(read);
            RowBatch cast = new RowBatch(
                    IntStream.range(0, casts.size())
                            .mapToObj(i -> casts.get(i).apply(read.column(i)))
                            .toList(),
                    read.rows());
            for (int row = 0; row < cast.rows(); row++) {
                sums.add(finder.part(keys, row), new RangeSum(1, hash.of(cast.row(row))));
            }
        }
        return List.of(new Tuple2<>(0, sums.bytes())).iterator();
    }

    /** Documents are hashed as the database writes them. */
    private Cast cast(ColumnPair pair) {
        Kind kind = pair.comparedAs() == Kind.JSON ? Kind.ANY : pair.comparedAs();
        var column = side == Side.SOURCE ? pair.source() : pair.target();
        return new Cast(column.type().orElseThrow(), kind, pair.digits());
    }
}
