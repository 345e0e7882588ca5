package sharptally.core.compare;

import java.util.List;
import java.util.Map;
import sharptally.core.compare.stream.ResultCounter;
import sharptally.core.finding.FindingKind;

/**
 * What a finished comparison of one match counted.
 *
 * @param same rows that both sides have and whose compared columns are all equal
 * @param findings rows per kind; for {@code REPEATED}, keys
 * @param perPair what was counted for each column pair, in the order of the match's pairs
 */
public record Counts(
        long sourceRows, long targetRows, long same, Map<FindingKind, Long> findings, List<PairCounts> perPair) {
    public Counts {
        findings = Map.copyOf(findings);
        perPair = List.copyOf(perPair);
    }

    /** Of rows that are all the same on both sides. */
    public static Counts allSame(long rows, int pairs) {
        ResultCounter tally = new ResultCounter(pairs);
        tally.same(rows);
        return tally.counts(rows, rows);
    }

    /** Of these rows and of others that follow them in key order. */
    public Counts plus(Counts next) {
        Map<FindingKind, Long> sums = new java.util.EnumMap<>(FindingKind.class);
        for (FindingKind kind : FindingKind.values()) {
            sums.put(kind, of(kind) + next.of(kind));
        }
        List<PairCounts> pairs = perPair.isEmpty()
                ? next.perPair
                : java.util.stream.IntStream.range(0, perPair.size())
                        .mapToObj(i -> perPair.get(i).plus(next.perPair.get(i)))
                        .toList();
        return new Counts(sourceRows + next.sourceRows, targetRows + next.targetRows, same + next.same, sums, pairs);
    }

    public static Counts none() {
        return new ResultCounter(0).counts(0, 0);
    }

    public long of(FindingKind kind) {
        return findings.getOrDefault(kind, 0L);
    }

    public boolean nothingDiffers() {
        return findings.values().stream().allMatch(n -> n == 0);
    }
}
