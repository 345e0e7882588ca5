package sharptally.core.place.part;

import java.util.Map;
import java.util.Optional;
import sharptally.core.range.RangeSum;

/** Checksums that the place works out by itself. */
public interface Checksums {
    /** Names the engine's own hash functions with what they make of test values; empty where there are none. */
    Optional<String> ownForm();

    /** Why checksums can't be worked out; empty when they can. */
    Optional<Obstacle> problem(SumsRequest request);

    /**
     * The checksums of a request that has no {@link #problem}; only ranges, or slices, that hold rows.
     *
     * @return by the place of the range in the request, or by the number of the slice
     */
    Map<Long, RangeSum> sums(SumsRequest request);

    /** Ends what another thread is having worked out; that fails then. */
    void cancel();
}
