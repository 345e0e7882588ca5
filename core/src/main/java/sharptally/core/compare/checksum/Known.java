package sharptally.core.compare.checksum;

import java.util.ArrayList;
import java.util.List;
import java.util.NavigableMap;
import java.util.Optional;
import java.util.TreeMap;
import java.util.concurrent.atomic.AtomicLong;
import sharptally.core.finding.Finding;
import sharptally.core.range.KeyRange;
import sharptally.core.rows.KeyOrder;
import sharptally.core.types.Value;

/**
 * What an earlier comparison of the same match found, and where. Safe for use by several threads.
 *
 * <p>Memory: all its findings.
 */
public final class Known {
    private final String run;
    private final List<Sliced> all;
    private final NavigableMap<List<Value>, List<Finding>> findings = new TreeMap<>(KeyOrder.ASCENDING);
    private final AtomicLong relied = new AtomicLong();
    private final AtomicLong taken = new AtomicLong();

    /**
     * @param run by which it is told
     * @param all ranges of the key that it cut into slices, in key order
     * @param found all findings of that comparison
     */
    public Known(String run, List<Sliced> all, List<Finding> found) {
        this.run = run;
        this.all = List.copyOf(all);
        found.forEach(finding -> findings.computeIfAbsent(finding.key(), key -> new ArrayList<>())
                .add(finding));
    }

    /** How a range was cut; empty where it was not, or where rows were hashed in another form. */
    Optional<Sliced> of(KeyRange range, String form) {
        return all.stream()
                .filter(sliced -> sliced.range().equals(range) && sliced.form().equals(form))
                .findFirst();
    }

    /** The ranges into which these keys were cut; empty where they are not all known. */
    public Optional<List<KeyRange>> ranges(KeyRange keys) {
        List<KeyRange> ranges = all.stream().map(Sliced::range).toList();
        return !ranges.isEmpty() && KeyRange.joined(ranges).equals(List.of(keys))
                ? Optional.of(ranges)
                : Optional.empty();
    }

    /** What differs in a slice, as it did then, in key order. */
    List<Finding> findings(KeyRange slice) {
        NavigableMap<List<Value>, List<Finding>> some =
                slice.from().isEmpty() ? findings : findings.tailMap(slice.from(), true);
        List<Finding> in = new ArrayList<>();
        for (var entry : some.entrySet()) {
            if (!slice.holds(entry.getKey())) {
                break;
            }
            in.addAll(entry.getValue());
        }
        relied.incrementAndGet();
        taken.addAndGet(in.size());
        return in;
    }

    /** Of no earlier comparison: what is found now is to be known later. */
    public static Known nothing() {
        return new Known("", List.of(), List.of());
    }

    /** What was relied on, a sentence; empty where there was no earlier comparison. */
    public Optional<String> told() {
        return Optional.of(run).filter(name -> !name.isEmpty()).map(name -> sentence());
    }

    private String sentence() {
        return relied.get() == 0
                ? "nothing of run " + run
                        + " was relied on: no slice of the key in which rows differ has the checksums that it"
                        + " had then"
                : "relied on run " + run + " for " + taken + (taken.get() == 1 ? " finding" : " findings") + " in "
                        + relied
                        + (relied.get() == 1 ? " slice" : " slices")
                        + " of the key: both sides have the checksums there that they had then, and no row was read there";
    }
}
