package sharptally.core.compare;

import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
import sharptally.core.finding.Finding;
import sharptally.core.finding.FindingKind;

/** Running counts of one comparison. Used by one thread. */
final class Tally {
    private final Map<FindingKind, Long> rows = new EnumMap<>(FindingKind.class);
    private final long[] differing;
    private long same;

    Tally(int pairs) {
        differing = new long[pairs];
        for (FindingKind kind : FindingKind.values()) {
            rows.put(kind, 0L);
        }
    }

    void same(long count) {
        same += count;
    }

    void count(Finding finding) {
        long times = 1;
        if (finding instanceof Finding.Missing missing) {
            times = missing.times();
        } else if (finding instanceof Finding.Extra extra) {
            times = extra.times();
        } else if (finding instanceof Finding.Changed changed) {
            changed.differences().forEach(d -> differing[d.pair()]++);
        }
        rows.merge(finding.kind(), times, Long::sum);
    }

    Counts counts(long sourceRows, long targetRows) {
        List<Long> perPair =
                IntStream.range(0, differing.length).mapToObj(i -> differing[i]).toList();
        return new Counts(sourceRows, targetRows, same, Map.copyOf(rows), perPair);
    }
}
