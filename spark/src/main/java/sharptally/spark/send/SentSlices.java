package sharptally.spark.send;

import java.util.List;
import sharptally.core.range.KeyRange;

/**
 * Slices of the key, one behind the other.
 *
 * @param first number of the first one
 */
public record SentSlices(int first, List<KeyRange> ranges) {
    public SentSlices {
        ranges = List.copyOf(ranges);
    }
}
