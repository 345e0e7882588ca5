package sharptally.core.compare;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import sharptally.core.rows.Cast;
import sharptally.core.rows.Column;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowSource;

/**
 * Adds to each batch, behind the columns as they were read, the same columns as they are compared: for column {@code i}
 * of the first {@code casts.size()}, its compared form stands at {@code columns + i}. Where there is nothing to cast,
 * both are the same object.
 */
record CastingSource(RowSource source, List<Cast> casts) implements RowSource {
    @Override
    public Optional<RowBatch> next() {
        return source.next().map(this::cast);
    }

    private RowBatch cast(RowBatch batch) {
        List<Column> columns = new ArrayList<>(batch.columns());
        columns.addAll(comparedColumns(batch, casts));
        return new RowBatch(columns, batch.rows());
    }

    static List<Column> comparedColumns(RowBatch batch, List<Cast> casts) {
        List<Column> compared = new ArrayList<>(casts.size());
        for (int i = 0; i < casts.size(); i++) {
            compared.add(casts.get(i).apply(batch.column(i)));
        }
        return compared;
    }

    @Override
    public void close() {
        source.close();
    }
}
