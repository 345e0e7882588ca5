package sharptally.core.compare;

import java.util.List;
import java.util.Optional;
import sharptally.core.finding.FindingSink;
import sharptally.core.range.KeyRange;

/**
 * Keeps what is found in each range of a match, so that a interrupted comparison can go on from the ranges that
 * it had finished. Safe for use by several threads, but for the sinks.
 */
public interface PartKeeper {
    /** Where the findings of one range go. */
    interface Sink extends FindingSink, AutoCloseable {
        @Override
        void close();
    }

    /** The ranges into which the match was cut before; empty when it was not. */
    Optional<List<KeyRange>> ranges();

    /** Keeps the ranges into which the match is cut. */
    void cut(List<KeyRange> ranges);

    /** What was found in a range before; empty when it was not finished. */
    Optional<RangeResult> finished(int range);

    /** Starts the findings of a range anew. */
    Sink open(int range);

    /** Keeps what was found in a range; its sink is closed by then. */
    void finish(int range, RangeResult part);

    /** Forgets all. */
    void restart();
}
