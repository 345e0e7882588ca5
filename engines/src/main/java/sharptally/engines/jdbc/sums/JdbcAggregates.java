package sharptally.engines.jdbc.sums;

import java.util.ArrayList;
import java.util.List;
import java.util.function.ToLongFunction;
import sharptally.core.place.ReadRequest;
import sharptally.core.place.part.Aggregates;
import sharptally.core.place.part.TotalsRequest;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;
import sharptally.core.types.Value;
import sharptally.engines.jdbc.PlaceSession;

/**
 * Figures by a database's own aggregates.
 *
 * @param counting how rows are counted
 */
public record JdbcAggregates(PlaceSession session, ToLongFunction<TableShape> counting) implements Aggregates {
    @Override
    public long countRows(TableShape table) {
        return counting.applyAsLong(table);
    }

    @Override
    public Totals totals(TotalsRequest request) {
        TableShape figures = session.selects().totals(request);
        return new Totals(
                figures.columns(), session.reader().apply(new ReadRequest(figures, figures.columns(), List.of())));
    }

    @Override
    public List<List<Value>> repeatedKeys(TableShape table, List<ColumnShape> key, int limit) {
        TableShape repeated = session.selects().repeated(table, key);
        List<List<Value>> keys = new ArrayList<>();
        session.readAll(new ReadRequest(repeated, repeated.columns(), List.of()).first(limit), keys::add);
        return keys;
    }
}
