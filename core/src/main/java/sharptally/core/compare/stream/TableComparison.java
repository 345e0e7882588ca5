package sharptally.core.compare.stream;

import java.time.Duration;
import java.util.ArrayList;
import java.util.Collections;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.BooleanSupplier;
import sharptally.core.compare.Outcome;
import sharptally.core.compare.Progress;
import sharptally.core.compare.RangeResult;
import sharptally.core.finding.FindingSink;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Place;
import sharptally.core.place.Side;
import sharptally.core.range.KeyRange;

/**
 * Compares one match by reading all its rows over one connection per side.
 *
 * <p>The databases are asked for the key order and are not trusted with it: engines differ in how they order text, and
 * a column may hold values that its type does not tell of. Rows that come out of order end the attempt; the comparison
 * starts over with that side sorted here. The result does not depend on timing.
 */
public final class TableComparison {
    private final TableMatch match;
    private final Place source;
    private final Place target;
    private final Progress progress;
    private final BooleanSupplier stopAsked;
    private final RateLimit slowing;
    private final Optional<Sample> sample;

    /**
     * @param stopAsked looked at now and then; once true, the comparison ends with an {@code INCOMPLETE} failure
     */
    public TableComparison(TableMatch match, Place source, Place target, Progress progress, BooleanSupplier stopAsked) {
        this(match, source, target, progress, stopAsked, RateLimit.NONE, Optional.empty());
    }

    public TableComparison(
            TableMatch match,
            Place source,
            Place target,
            Progress progress,
            BooleanSupplier stopAsked,
            RateLimit slowing,
            Optional<Sample> sample) {
        this.match = match;
        this.source = source;
        this.target = target;
        this.progress = progress;
        this.stopAsked = stopAsked;
        this.slowing = slowing;
        this.sample = sample;
    }

    /**
     * @throws sharptally.core.fault.ToolException when a side can't be read to its end, or a stop was asked for; what
     *     the sink has been given by then proves nothing
     */
    public Outcome run(FindingSink sink) {
        long started = System.nanoTime();
        RangeResult part = part(List.of(), sink);
        return Outcome.of(part, false, Duration.ofNanos(System.nanoTime() - started));
    }

    /** The same of some ranges alone; empty for all rows. */
    public RangeResult part(List<KeyRange> ranges, FindingSink sink) {
        boolean otherOrder =
                match.keyPairs().stream().anyMatch(pair -> pair.toRuleSet().changesOrder());
        Set<Side> sortHere = match.wholeRow() || otherOrder ? EnumSet.allOf(Side.class) : EnumSet.noneOf(Side.class);
        List<String> remarks = Collections.synchronizedList(new ArrayList<>());
        while (true) {
            try {
                StreamComparison stretch = new StreamComparison(
                        match, source, target, progress, stopAsked, sortHere, remarks, slowing, sample);
                RangeResult part = stretch.merge(ranges, sink);
                return new RangeResult(part.counts(), part.method(), part.damage(), remarks);
            } catch (OutOfOrder e) {
                if (!sortHere.add(e.side())) {
                    throw new IllegalStateException("rows of the " + e.side() + " are out of order after sorting", e);
                }
                remarks.add("the " + e.side() + " orders this key in another way; its rows were sorted here");
                sink.restart();
            }
        }
    }
}
