package sharptally.core.compare.checksum;

import java.util.List;
import sharptally.core.range.KeyRange;
import sharptally.core.range.RangeSum;
import sharptally.core.types.Value;

/**
 * How a range of the key was cut into slices, and which of them differ: where both sides have the same checksums in the same
 * slice again, the same rows differ there in the same way.
 *
 * @param form how rows were hashed
 * @param step how many numbers a slice spans; 0 where the key is none
 * @param bounds keys at which the range was cut, where the key is no number
 * @param differing slices with other checksums on both sides, in key order
 */
public record Sliced(String form, KeyRange range, long step, List<List<Value>> bounds, List<Slice> differing) {
    /** One slice: which keys, and what both sides hold there. */
    public record Slice(KeyRange keys, RangeSum source, RangeSum target) {
        boolean isSame() {
            return source.proves(target);
        }

        /** Together with the one that follows it. */
        Slice plus(Slice next) {
            return new Slice(
                    new KeyRange(keys.from(), next.keys.to()), source.plus(next.source), target.plus(next.target));
        }

        /** Whether both sides hold what they held then. */
        boolean isAs(Slice then) {
            return keys.equals(then.keys) && source.proves(then.source) && target.proves(then.target);
        }
    }

    public Sliced {
        bounds = List.copyOf(bounds);
        differing = List.copyOf(differing);
    }
}
