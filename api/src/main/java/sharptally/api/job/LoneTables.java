package sharptally.api.job;

import java.util.ArrayList;
import java.util.List;
import java.util.OptionalLong;
import sharptally.core.fault.ToolException;
import sharptally.core.match.LoneTable;
import sharptally.core.place.Place;
import sharptally.core.place.RowCount;
import sharptally.core.place.Side;
import sharptally.formats.run.LoneSummary;

/** Counts the rows of tables that are on one side only: exactly, or as the database estimates them where there are many. */
final class LoneTables {
    private static final long FEW_ENOUGH_TO_COUNT = 1_000_000;

    private LoneTables() {}

    static List<LoneSummary> counted(List<LoneTable> tables, Place source, Place target) {
        List<LoneSummary> counted = new ArrayList<>();
        for (LoneTable table : tables) {
            counted.add(counted(table, table.side() == Side.SOURCE ? source : target));
        }
        return counted;
    }

    private static LoneSummary counted(LoneTable table, Place place) {
        String name = table.name().toString();
        if (place.readProblem(table.name()).isPresent()) {
            return new LoneSummary(name, table.side(), -1, false, table.untold());
        }
        OptionalLong estimate = place.estimate(table.name()).rows();
        boolean about = estimate.isPresent() && estimate.getAsLong() > FEW_ENOUGH_TO_COUNT;
        try {
            long rows = about
                    ? estimate.getAsLong()
                    : RowCount.of(place, place.describe(table.name().toString()));
            return new LoneSummary(name, table.side(), rows, about, table.untold());
        } catch (ToolException e) {
            // It is there and can't be counted, such as a view that fails: that it is alone is told all the same.
            return new LoneSummary(name, table.side(), -1, false, table.untold());
        }
    }
}
