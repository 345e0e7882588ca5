package sharptally.spark.lake;

import java.util.Iterator;
import java.util.NoSuchElementException;
import java.util.Optional;
import org.apache.spark.api.java.function.FlatMapFunction;
import org.apache.spark.sql.catalyst.InternalRow;
import org.apache.spark.sql.types.StructType;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowPack;
import sharptally.core.rows.RowSource;
import sharptally.spark.send.Sent;

/** Rows as packs, a batch each. */
record PackRows(StructType read, String columns) implements FlatMapFunction<Iterator<InternalRow>, byte[]> {
    @Override
    public Iterator<byte[]> call(Iterator<InternalRow> rows) {
        RowSource source = new LakeRows(rows, read, Sent.columns(columns));
        return new Iterator<>() {
            private Optional<RowBatch> batch = source.next();

            @Override
            public boolean hasNext() {
                return batch.isPresent();
            }

            @Override
            public byte[] next() {
                RowBatch now = batch.orElseThrow(NoSuchElementException::new);
                RowPack pack = new RowPack();
                for (int row = 0; row < now.rows(); row++) {
                    pack.add(now.columns(), row);
                }
                batch = source.next();
                return pack.take();
            }
        };
    }
}
