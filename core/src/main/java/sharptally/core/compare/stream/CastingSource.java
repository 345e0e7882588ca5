package sharptally.core.compare.stream;

import java.util.List;
import java.util.Optional;
import java.util.function.UnaryOperator;
import sharptally.core.rows.Column;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowSource;

/**
 * Adds to each batch the columns as they are compared.
 *
 * @param casts per compared column; empty for those that are cast later, cell by cell, if at all
 */
record CastingSource(RowSource source, List<Optional<UnaryOperator<Column>>> casts) implements RowSource {
    @Override
    public Optional<RowBatch> next() {
        return source.next().map(this::cast);
    }

    private RowBatch cast(RowBatch batch) {
        Column[] compared = new Column[casts.size()];
        for (int i = 0; i < compared.length; i++) {
            if (casts.get(i).isPresent()) {
                compared[i] = casts.get(i).get().apply(batch.column(i));
            }
        }
        return batch.comparedAs(compared);
    }

    @Override
    public void close() {
        source.close();
    }
}
