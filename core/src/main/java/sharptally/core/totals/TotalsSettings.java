package sharptally.core.totals;

import java.math.BigDecimal;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import sharptally.core.match.request.ColumnChoice;
import sharptally.core.place.part.Measure;
import sharptally.core.place.part.TimeUnit;

/**
 * Which totals the user wants of a match.
 *
 * @param of what to work out; columns of kinds that it does not fit go without
 * @param by what tells groups apart; empty for one group of all rows
 * @param columns only of these; empty for all
 * @param within how far floating sums may lie apart, as a share of the greater
 */
public record TotalsSettings(Set<Measure> of, List<By> by, List<ColumnChoice> columns, Optional<BigDecimal> within) {
    /** What is cheap to work out: each takes one pass without sorting. */
    public static final Set<Measure> CHEAP = Set.copyOf(EnumSet.complementOf(EnumSet.of(Measure.DISTINCT)));

    public static final TotalsSettings USUAL = new TotalsSettings(CHEAP, List.of(), List.of(), Optional.empty());

    public TotalsSettings {
        of = Set.copyOf(of);
        by = List.copyOf(by);
        columns = List.copyOf(columns);
    }

    /**
     * A column by which rows are grouped, and the span in which its times are put together.
     *
     * @param column name in the source
     */
    public record By(String column, Optional<TimeUnit> unit) {
        /** As users write it: {@code station_code} or {@code taken_at:month}. */
        public static By parse(String text) {
            int colon = text.lastIndexOf(':');
            for (TimeUnit unit : TimeUnit.values()) {
                if (colon > 0 && text.substring(colon + 1).equals(unit.word())) {
                    return new By(text.substring(0, colon), Optional.of(unit));
                }
            }
            return new By(text, Optional.empty());
        }

        @Override
        public String toString() {
            return column + unit.map(u -> ":" + u.word()).orElse("");
        }
    }
}
