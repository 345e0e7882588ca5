package sharptally.core.range;

import java.util.ArrayList;
import java.util.List;
import sharptally.core.rows.KeyOrder;
import sharptally.core.types.Value;

/**
 * An interval of the key, half open: {@code from} is in it, {@code to} is not. Where both are the same, it is that key
 * alone.
 *
 * @param from values of the key's first columns, in key order; empty where the range has no lower end
 * @param to the same of the upper end
 */
public record KeyRange(List<Value> from, List<Value> to) {
    /** All keys. */
    public static final KeyRange ALL = new KeyRange(List.of(), List.of());

    public KeyRange {
        from = List.copyOf(from);
        to = List.copyOf(to);
    }

    /** One key alone; told by ends that are equal. */
    public static KeyRange only(List<Value> key) {
        return new KeyRange(key, key);
    }

    /** Whether this is one key alone. */
    public boolean holdsOne() {
        return !from.isEmpty() && from.equals(to);
    }

    public boolean holdsAll() {
        return from.isEmpty() && to.isEmpty();
    }

    /** Whether a key is in it; of a bound with fewer columns, those alone count. */
    public boolean holds(List<Value> key) {
        if (holdsOne()) {
            return KeyOrder.ASCENDING.compare(key, from) == 0;
        }
        return (from.isEmpty() || compare(key, from) >= 0) && (to.isEmpty() || compare(key, to) < 0);
    }

    private static int compare(List<Value> key, List<Value> bound) {
        return KeyOrder.ASCENDING.compare(key.subList(0, Math.min(key.size(), bound.size())), bound);
    }

    /**
     * The parts into which bounds cut this range, in order.
     *
     * @param bounds ascending, each within this range and greater than its lower end
     */
    public List<KeyRange> cutAt(List<List<Value>> bounds) {
        List<KeyRange> parts = new ArrayList<>();
        List<Value> start = from;
        for (List<Value> bound : bounds) {
            parts.add(new KeyRange(start, bound));
            start = bound;
        }
        parts.add(new KeyRange(start, to));
        return parts;
    }

    /**
     * The same keys in as few ranges as can be.
     *
     * @param ranges ascending
     */
    public static List<KeyRange> joined(List<KeyRange> ranges) {
        List<KeyRange> out = new ArrayList<>();
        for (KeyRange range : ranges) {
            KeyRange before = out.isEmpty() ? ALL : out.get(out.size() - 1);
            if (!before.to.isEmpty() && before.to.equals(range.from)) {
                out.set(out.size() - 1, new KeyRange(before.from, range.to));
            } else {
                out.add(range);
            }
        }
        return out;
    }

    @Override
    public String toString() {
        return shown(from) + ".." + shown(to);
    }

    private static String shown(List<Value> end) {
        return String.join(",", end.stream().map(Value::toString).toList());
    }
}
