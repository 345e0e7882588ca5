package sharptally.core.compare;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.UnaryOperator;
import sharptally.core.rows.Column;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowSource;

/**
 * Adds to each batch, behind the columns as they were read, the same columns as they are compared: for column {@code i}
 * of the first {@code casts.size()}, its compared form stands at {@code columns + i}. Where there is nothing to cast,
 * both are the same object.
 *
 * @param casts per compared column; empty for those that are cast later, cell by cell, if at all
 */
record CastingSource(RowSource source, List<Optional<UnaryOperator<Column>>> casts) implements RowSource {
    @Override
    public Optional<RowBatch> next() {
        return source.next().map(this::cast);
    }

    private RowBatch cast(RowBatch batch) {
        List<Column> columns = new ArrayList<>(batch.columns());
        for (int i = 0; i < casts.size(); i++) {
            Column column = batch.column(i);
            columns.add(casts.get(i).map(cast -> cast.apply(column)).orElse(column));
        }
        return new RowBatch(columns, batch.rows());
    }

    @Override
    public void close() {
        source.close();
    }
}
