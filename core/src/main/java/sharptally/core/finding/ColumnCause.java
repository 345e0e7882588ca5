package sharptally.core.finding;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.IntStream;

/**
 * Judges what made the values of one column differ, from all pairs together: of causes that a pair may have, the one is told
 * that explains most pairs, then the one that explains most of what is left. Needs little memory, however many pairs there
 * are. Not safe for use by several threads.
 */
public final class ColumnCause {
    private static final int MAX_CAUSES = 1_000;
    private static final int MAX_SIGNATURES = 20_000;

    private final Map<String, Integer> numbers = new HashMap<>();
    private final List<LikelyCause> causes = new ArrayList<>();
    /** How many pairs have just these causes. */
    private final Map<List<Integer>, Long> signatures = new HashMap<>();

    private long pairs;

    /**
     * A cause that was found.
     *
     * @param rows the pairs that it explains, and no cause before it does
     */
    public record Found(String words, long rows) {}

    /** Takes one more pair, with all causes that it may have. */
    public void add(List<LikelyCause> possible) {
        pairs++;
        List<Integer> known = new ArrayList<>();
        for (LikelyCause cause : possible) {
            Integer number = numbers.get(cause.words());
            if (number == null && causes.size() < MAX_CAUSES) {
                number = causes.size();
                causes.add(cause);
                numbers.put(cause.words(), number);
            }
            if (number != null) {
                known.add(number);
            }
        }
        if (!known.isEmpty() && (signatures.size() < MAX_SIGNATURES || signatures.containsKey(known))) {
            signatures.merge(List.copyOf(known), 1L, Long::sum);
        }
    }

    /** How many pairs were taken. */
    public long pairs() {
        return pairs;
    }

    /** What made them differ; pairs of which nothing is known are in none. */
    public List<Found> found() {
        List<Found> found = new ArrayList<>();
        Map<List<Integer>, Long> left = new HashMap<>(signatures);
        for (Optional<Found> next = take(left); next.isPresent(); next = take(left)) {
            found.add(next.get());
        }
        return found;
    }

    private Optional<Found> take(Map<List<Integer>, Long> left) {
        long[] rows = new long[causes.size()];
        left.forEach((signature, of) -> signature.forEach(cause -> rows[cause] += of));
        long explained = Arrays.stream(rows).max().orElse(0);
        if (explained == 0) {
            return Optional.empty();
        }
        Optional<Integer> best = IntStream.range(0, rows.length)
                .boxed()
                .filter(i -> rows[i] > 0 && causes.get(i).sort().isTold(rows[i], pairs))
                .max(Comparator.comparingLong((Integer i) -> weight(causes.get(i), rows[i]))
                        .thenComparing(i -> -causes.get(i).order())
                        .thenComparing(i -> causes.get(i).words(), Comparator.reverseOrder()));
        best.ifPresent(cause -> left.keySet().removeIf(signature -> signature.contains(cause)));
        return best.map(cause -> new Found(causes.get(cause).words(), rows[cause]));
    }

    /** What says little, such as an offset, has to explain more than what says much. */
    private static long weight(LikelyCause cause, long rows) {
        return switch (cause.sort()) {
            case FACT, GUESS -> cause.order() >= 79 ? rows * 9 : rows * 10;
            case AMOUNT -> rows * 8;
        };
    }
}
