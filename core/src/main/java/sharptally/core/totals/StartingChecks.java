package sharptally.core.totals;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import sharptally.core.place.Place;
import sharptally.core.place.part.Measure;
import sharptally.core.place.part.TotalsRequest;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;
import sharptally.core.types.Numbers;
import sharptally.core.types.Value;

/** Expectations to begin with: what holds for a table now and should go on to hold. */
public final class StartingChecks {
    private StartingChecks() {}

    /**
     * At least as many rows as now, and no NULL where there is none now though there might be.
     *
     * @param names by which the expectations speak of each column
     */
    public static List<String> of(Place place, TableShape table, Map<ColumnShape, String> names) {
        List<ColumnShape> columns =
                table.columns().stream().filter(names::containsKey).toList();
        List<TotalsRequest.Term> terms = new ArrayList<>();
        terms.add(new TotalsRequest.Term(Measure.ROWS, Optional.empty(), true));
        columns.forEach(c -> terms.add(new TotalsRequest.Term(Measure.FILLED, Optional.of(c), true)));
        Value[] found = TotalsReading.read(place, table, List.of(), terms, 1, row -> List.of())
                .get(List.<String>of());
        BigDecimal rows = Numbers.of(found[0]).orElseThrow();
        List<String> checks = new ArrayList<>();
        checks.add("rows >= " + rows.toPlainString());
        for (int i = 0; i < columns.size(); i++) {
            boolean full = Numbers.of(found[i + 1]).orElseThrow().compareTo(rows) == 0;
            if (full && rows.signum() > 0) {
                checks.add("nulls(" + names.get(columns.get(i)) + ") = 0");
            }
        }
        return checks;
    }
}
