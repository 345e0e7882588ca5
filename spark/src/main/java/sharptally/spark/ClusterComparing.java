package sharptally.spark;

import java.util.List;
import java.util.Optional;
import org.apache.spark.sql.SparkSession;
import sharptally.core.compare.ComparisonSettings;
import sharptally.core.compare.Method;
import sharptally.core.compare.Outcome;
import sharptally.core.compare.Pair;
import sharptally.core.compare.method.Eligibility;
import sharptally.core.compare.run.Comparing;
import sharptally.core.place.Place;
import sharptally.core.place.Side;
import sharptally.core.place.part.Seek;
import sharptally.spark.lake.LakePlace;
import sharptally.spark.lake.SparkTables;

/**
 * Compares a match by the executors of a cluster: range by range where both sides find rows by their key, else by bringing
 * together what has to be. What a cluster has no way for is compared by its driver, as the local program does.
 */
public final class ClusterComparing implements Comparing {
    /** The driver asks over one connection; the others are the executors'. */
    @Override
    public int connectionsHere(int workers) {
        return 1;
    }

    @Override
    public Outcome compare(Work work) {
        ComparisonSettings settings = work.settings();
        boolean narrow = !settings.keys().holdsAll()
                || settings.sample().isPresent()
                || settings.changedSince().isPresent();
        Optional<String> bound = List.of(Side.values()).stream()
                .flatMap(side -> Boundness.of(work, side).stream())
                .findFirst();
        // A pace is kept by one process alone, and a join is none of many machines.
        boolean alone = !work.context().limit().isNone() || settings.method() == Method.JOINED;
        if (narrow || alone || bound.isPresent()) {
            return Comparing.here(work);
        }
        SparkSession session = SparkTables.session();
        Pair places = work.workers().get(0);
        Eligibility eligibility = new Eligibility(work.match(), places.source(), places.target());
        boolean byRanges = !isLake(places.source())
                && !isLake(places.target())
                && eligibility.rangeProblem().isEmpty()
                && eligibility.seek() == Seek.BY_INDEX;
        if (byRanges) {
            return new ByRanges(work, session).run();
        }
        ClusterSides sides = new ClusterSides(work, session);
        return BySums.of(work, sides, eligibility)
                .flatMap(BySums::run)
                .orElseGet(() -> new ByShuffle(work, sides, eligibility).run());
    }

    private static boolean isLake(Place place) {
        return place instanceof LakePlace;
    }
}
