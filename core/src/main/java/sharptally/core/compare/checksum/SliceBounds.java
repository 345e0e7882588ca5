package sharptally.core.compare.checksum;

import java.util.ArrayList;
import java.util.List;
import sharptally.core.place.ReadRequest;
import sharptally.core.place.part.RangeSeek;
import sharptally.core.range.KeyRange;
import sharptally.core.types.Value;

/**
 * Keys at which the rows of a match are cut into slices, looked for once for all its ranges, which are cut at some of them.
 *
 * @param keys ascending; empty where they are looked for in each range by itself
 */
public record SliceBounds(List<List<Value>> keys) {
    /** Looked for in each range by itself. */
    public static final SliceBounds UNKNOWN = new SliceBounds(List.of());

    /** Of more rows they would take too much memory. */
    private static final long MOST_ROWS = 200_000_000;

    public SliceBounds {
        keys = List.copyOf(keys);
    }

    /**
     * @param rows about how many there are; below zero where unknown
     */
    public static SliceBounds of(RangeSeek seek, ReadRequest keys, long rows) {
        return rows < 0 || rows > MOST_ROWS ? UNKNOWN : new SliceBounds(seek.roughBounds(keys, Slicing.ROWS_PER_SLICE));
    }

    /** Ranges of about so many rows. */
    public List<KeyRange> ranges(KeyRange within, long rowsPerRange) {
        int slices = Math.toIntExact(Math.max(1, Math.min(Integer.MAX_VALUE, rowsPerRange / Slicing.ROWS_PER_SLICE)));
        List<List<Value>> some = new ArrayList<>();
        for (long i = slices; i < keys.size(); i += slices) {
            some.add(keys.get((int) i));
        }
        return within.cutAt(some);
    }

    /** The slices of a range. */
    List<KeyRange> slices(KeyRange range) {
        return range.cutAt(keys.stream()
                .filter(key -> range.holds(key) && !key.equals(range.from()))
                .toList());
    }
}
