package sharptally.core.compare.stream;

import java.time.Duration;
import java.util.ArrayList;
import java.util.Collections;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import sharptally.core.compare.ComparisonContext;
import sharptally.core.compare.Outcome;
import sharptally.core.compare.Pair;
import sharptally.core.compare.RangeResult;
import sharptally.core.finding.FindingSink;
import sharptally.core.match.TableMatch;
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
    private final Pair places;
    private final Optional<Sample> sample;
    private final ComparisonContext context;
    private final Instead instead;

    /** Another way to compare all rows than to sort them. */
    public interface Instead {
        /**
         * @param sortHere the sides that would be sorted
         * @return empty, and the sink was given nothing, where there is none
         */
        Optional<RangeResult> compare(Set<Side> sortHere, FindingSink sink);
    }

    /** All rows. */
    public TableComparison(TableMatch match, Pair places, ComparisonContext context) {
        this(match, places, Optional.empty(), context, (sortHere, sink) -> Optional.empty());
    }

    public TableComparison(
            TableMatch match, Pair places, Optional<Sample> sample, ComparisonContext context, Instead instead) {
        this.match = match;
        this.places = places;
        this.sample = sample;
        this.context = context;
        this.instead = instead;
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
        boolean tried = false;
        while (true) {
            if (!sortHere.isEmpty() && ranges.isEmpty() && !tried) {
                tried = true;
                Optional<RangeResult> otherwise = instead.compare(Set.copyOf(sortHere), sink);
                if (otherwise.isPresent()) {
                    return otherwise.get();
                }
            }
            try {
                RangeResult part =
                        new StreamComparison(match, places, sortHere, sample, remarks, context).merge(ranges, sink);
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
