package sharptally.core.checksum;

import java.util.List;
import sharptally.core.range.KeyRange;
import sharptally.core.rows.KeyOrder;
import sharptally.core.types.Value;

/** Tells in which of some ranges a key is. */
final class RangeFinder {
    private final List<KeyRange> ranges;

    /**
     * @param ranges in key order
     */
    RangeFinder(List<KeyRange> ranges) {
        this.ranges = ranges;
    }

    /** The place of the range; -1 when the key is in none. */
    int of(List<Value> key) {
        int first = 0;
        int last = ranges.size() - 1;
        while (first < last) {
            int middle = (first + last + 1) / 2;
            if (isBefore(key, ranges.get(middle).from())) {
                last = middle - 1;
            } else {
                first = middle;
            }
        }
        KeyRange range = ranges.get(first);
        boolean in = !isBefore(key, range.from()) && (range.to().isEmpty() || isBefore(key, range.to()));
        return in ? first : -1;
    }

    /** Of a bound with fewer columns, those alone count. */
    private static boolean isBefore(List<Value> key, List<Value> bound) {
        return KeyOrder.ASCENDING.compare(key.subList(0, Math.min(key.size(), bound.size())), bound) < 0;
    }
}
