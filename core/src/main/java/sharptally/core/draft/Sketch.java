package sharptally.core.draft;

import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;

/**
 * What one column's values are like, small enough to be compared with many others.
 *
 * <p>Idea: of the hashes of all different values the smallest {@value #KEPT} are kept. Since the hash is the same on
 * both sides, the kept ones are a sample of the values that both sides draw alike, so that their overlap estimates the
 * overlap of the whole sets, with an error of about one in the root of {@value #KEPT}. Beside it stand the share of
 * NULL, the share of different values, the mean length, and how often the commonest values occur.
 *
 * @param hashes the smallest hashes of different values
 * @param different how many different values there are
 * @param shares how large a share of the rows each of the commonest values has
 */
record Sketch(TreeSet<Long> hashes, int different, double nulls, double length, Map<String, Double> shares) {
    static final int KEPT = 256;

    private static final int COMMONEST = 32;

    static Sketch of(List<String> values) {
        Map<String, Integer> counts = new HashMap<>();
        long letters = 0;
        int nulls = 0;
        for (String value : values) {
            if (value.equals(Sample.NULL)) {
                nulls++;
            } else {
                counts.merge(value, 1, Integer::sum);
                letters += value.length();
            }
        }
        TreeSet<Long> hashes = new TreeSet<>();
        for (String value : counts.keySet()) {
            hashes.add(hash(value));
            if (hashes.size() > KEPT) {
                hashes.pollLast();
            }
        }
        Map<String, Double> shares = new HashMap<>();
        counts.entrySet().stream()
                .sorted(Map.Entry.<String, Integer>comparingByValue().reversed())
                .limit(COMMONEST)
                .forEach(e -> shares.put(e.getKey(), (double) e.getValue() / values.size()));
        int filled = Math.max(1, values.size() - nulls);
        return new Sketch(
                hashes,
                counts.size(),
                values.isEmpty() ? 0 : (double) nulls / values.size(),
                (double) letters / filled,
                shares);
    }

    /** Spreads texts over 64 bits; the same on every run. */
    private static long hash(String text) {
        long h = 0xcbf29ce484222325L;
        for (int i = 0; i < text.length(); i++) {
            h = (h ^ text.charAt(i)) * 0x100000001b3L;
        }
        h ^= h >>> 33;
        h *= 0xff51afd7ed558ccdL;
        h ^= h >>> 33;
        h *= 0xc4ceb9fe1a85ec53L;
        return h ^ h >>> 33;
    }

    /** The share of the smaller set's values that the other has too, about; from 0 to 1. */
    double overlap(Sketch other) {
        if (hashes.isEmpty() || other.hashes.isEmpty()) {
            return 0;
        }
        // Hashes above the smaller of both bounds are known of one side alone.
        long bound = Math.min(bound(), other.bound());
        Set<Long> mine = new HashSet<>(hashes.headSet(bound, true));
        Set<Long> theirs = new HashSet<>(other.hashes.headSet(bound, true));
        int smaller = Math.min(mine.size(), theirs.size());
        mine.retainAll(theirs);
        return smaller == 0 ? 0 : (double) mine.size() / smaller;
    }

    private long bound() {
        return hashes.size() < KEPT ? Long.MAX_VALUE : hashes.last();
    }

    /** How much alike NULLs, lengths and the commonest values are; from 0 to 1. */
    double alike(Sketch other) {
        double byNulls = 1 - Math.abs(nulls - other.nulls);
        double byLength = Math.min(length, other.length) / Math.max(1e-9, Math.max(length, other.length));
        double common = 0;
        double all = 0;
        for (Map.Entry<String, Double> share : shares.entrySet()) {
            common += Math.min(share.getValue(), other.shares.getOrDefault(share.getKey(), 0.0));
            all += share.getValue();
        }
        double byCommonest = all == 0 ? 1 : common / all;
        return (byNulls + (length == other.length ? 1 : byLength) + byCommonest) / 3;
    }

    /** Whether there are so few different values that columns of another meaning may well hold the same ones. */
    boolean tellsLittle() {
        return different < 12;
    }
}
