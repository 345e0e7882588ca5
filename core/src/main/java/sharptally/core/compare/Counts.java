package sharptally.core.compare;

import java.util.List;
import java.util.Map;
import sharptally.core.finding.FindingKind;

/**
 * What a finished comparison of one match counted.
 *
 * @param same rows that both sides have and whose compared columns are all equal
 * @param findings rows per kind; for {@code REPEATED}, keys
 * @param differingPerPair changed rows in which this column pair differs, in the order of the match's pairs
 */
public record Counts(
        long sourceRows, long targetRows, long same, Map<FindingKind, Long> findings, List<Long> differingPerPair) {
    public Counts {
        findings = Map.copyOf(findings);
        differingPerPair = List.copyOf(differingPerPair);
    }

    public static Counts none() {
        return new Tally(0).counts(0, 0);
    }

    public long of(FindingKind kind) {
        return findings.getOrDefault(kind, 0L);
    }

    public boolean nothingDiffers() {
        return findings.values().stream().allMatch(n -> n == 0);
    }
}
