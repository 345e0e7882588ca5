package sharptally.core.compare.stream;

import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.IntStream;
import sharptally.core.compare.Counts;
import sharptally.core.compare.PairCounts;
import sharptally.core.finding.Difference;
import sharptally.core.finding.Finding;
import sharptally.core.finding.FindingKind;
import sharptally.core.range.DifferenceHistogram;

/** Running counts of one comparison. Used by one thread. */
public final class ResultCounter {
    private final Map<FindingKind, Long> rows = new EnumMap<>(FindingKind.class);
    private final long[] differing;
    private final List<List<PairCounts.Example>> examples = new ArrayList<>();
    private final List<Map<String, Long>> sameByRule = new ArrayList<>();
    private final DifferenceHistogram damage = new DifferenceHistogram();
    private long same;

    public ResultCounter(int pairs) {
        differing = new long[pairs];
        for (int i = 0; i < pairs; i++) {
            examples.add(new ArrayList<>());
            sameByRule.add(new TreeMap<>());
        }
        for (FindingKind kind : FindingKind.values()) {
            rows.put(kind, 0L);
        }
    }

    public void same(long count) {
        same += count;
    }

    /** Where in the key range rows differ; told of every key in its order. */
    DifferenceHistogram damage() {
        return damage;
    }

    /** Notes that a pair is the same in one row, but only by a rule. */
    void sameByRule(int pair, String rule) {
        sameByRule.get(pair).merge(rule, 1L, Long::sum);
    }

    public void count(Finding finding) {
        long times = 1;
        if (finding instanceof Finding.Missing missing) {
            times = missing.times();
        } else if (finding instanceof Finding.Extra extra) {
            times = extra.times();
        } else if (finding instanceof Finding.Changed changed) {
            for (Difference difference : changed.differences()) {
                List<PairCounts.Example> some = examples.get(difference.pair());
                if (differing[difference.pair()]++ < PairCounts.MAX_EXAMPLES) {
                    some.add(new PairCounts.Example(changed.key(), difference.source(), difference.target()));
                }
            }
        }
        rows.merge(finding.kind(), times, Long::sum);
    }

    public Counts counts(long sourceRows, long targetRows) {
        List<PairCounts> perPair = IntStream.range(0, differing.length)
                .mapToObj(i -> new PairCounts(differing[i], examples.get(i), sameByRule.get(i)))
                .toList();
        return new Counts(sourceRows, targetRows, same, Map.copyOf(rows), perPair);
    }
}
