package sharptally.spark;

import java.util.Optional;
import java.util.Set;
import sharptally.core.compare.run.Comparing;
import sharptally.core.place.Endpoint;
import sharptally.core.place.Side;

/** Which places only one process can read, so that no executor could. */
final class Boundness {
    private static final Set<String> EMBEDDED = Set.of("h2", "jdbc");

    private Boundness() {}

    /** Why a side is read by the driver alone; empty where executors read it. */
    static Optional<String> of(Comparing.Work work, Side side) {
        Endpoint place = side == Side.SOURCE ? work.source() : work.target();
        return Optional.of(place.address())
                .filter(a -> EMBEDDED.contains(a.engine()) || a.location().equals("-"))
                .map(a -> "the " + side + " is read by the driver alone");
    }
}
