package sharptally.core.compare.run;

import java.util.List;
import sharptally.core.compare.ComparisonContext;
import sharptally.core.compare.ComparisonSettings;
import sharptally.core.compare.Outcome;
import sharptally.core.compare.Pair;
import sharptally.core.compare.PartKeeper;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Endpoint;

/** How the rows of one match are compared: in this process, or by many machines. */
public interface Comparing {
    /**
     * What is to be done.
     *
     * @param source the place that {@code workers} have opened, to be opened elsewhere as well
     * @param workers both places as each worker has them
     * @param rows about how many the source has; -1 where unknown
     */
    record Work(
            TableMatch match,
            Endpoint source,
            Endpoint target,
            List<Pair> workers,
            ComparisonSettings settings,
            PartKeeper keeper,
            ComparisonContext context,
            long rows) {}

    /**
     * Compares.
     *
     * @throws sharptally.core.fault.ToolException when a side can't be read to its end, or a stop was asked for; what the
     *     keeper holds by then proves nothing of the ranges that are not finished
     */
    Outcome compare(Work work);

    /**
     * How many connections to each side are opened here.
     *
     * @param workers how many work at once, here or elsewhere
     */
    default int connectionsHere(int workers) {
        return workers;
    }

    /** In this process. */
    static Outcome here(Work work) {
        return new RangedComparison(work.match, work.workers, work.settings, work.keeper, work.context).run(work.rows);
    }
}
