package sharptally.core.place.part;

import java.util.List;
import java.util.Optional;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;

/**
 * Which totals to work out over the rows of a table.
 *
 * @param by what tells groups apart; empty for one group of all rows
 * @param terms what to work out for each group
 */
public record TotalsRequest(TableShape table, List<Group> by, List<Term> terms) {
    public TotalsRequest {
        by = List.copyOf(by);
        terms = List.copyOf(terms);
    }

    /**
     * @param unit for a column of dates or times, the span in which its values are put together
     */
    public record Group(ColumnShape column, Optional<TimeUnit> unit) {}

    /**
     * One figure.
     *
     * @param column empty for {@link Measure#ROWS} alone
     * @param exact for a sum, whether it is to be exact; else it is worked out as a floating value
     * @param absolute for a floating sum, whether values are added without their signs
     */
    public record Term(Measure measure, Optional<ColumnShape> column, boolean exact, boolean absolute) {
        public Term(Measure measure, Optional<ColumnShape> column, boolean exact) {
            this(measure, column, exact, false);
        }
    }
}
