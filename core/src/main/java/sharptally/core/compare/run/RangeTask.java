package sharptally.core.compare.run;

import java.util.List;
import java.util.Optional;
import sharptally.core.compare.Method;
import sharptally.core.compare.stream.Sample;
import sharptally.core.match.TableMatch;
import sharptally.core.range.KeyRange;

/**
 * The unit of work of a comparison: the rows of one key range of one match. It holds all that decides what is found, and
 * no connection, so that it may be written down, sent elsewhere, and be run there by a {@link RangeRunner}; ranges of
 * one match may be run in any order and at the same time, and their results be added up in key order.
 *
 * @param number of the range in its match, from 0
 * @param rows about how many there are in it
 * @param method by which it is compared; never {@link Method#AUTO}
 * @param sample the rows that are compared; empty for all
 */
public record RangeTask(
        TableMatch match, int number, KeyRange range, long rows, Method method, Optional<Sample> sample) {
    public RangeTask {
        if (method == Method.AUTO) {
            throw new IllegalArgumentException("a task has a method: " + match.name());
        }
    }

    /** The same by another method. */
    public RangeTask by(Method other) {
        return new RangeTask(match, number, range, rows, other, sample);
    }

    List<KeyRange> ranges() {
        return range.holdsAll() ? List.of() : List.of(range);
    }
}
