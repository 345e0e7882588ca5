package sharptally.core.compare.run;

import java.time.Duration;
import java.util.ArrayList;
import java.util.Collections;
import java.util.EnumSet;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import sharptally.core.compare.ComparisonContext;
import sharptally.core.compare.Outcome;
import sharptally.core.compare.Pair;
import sharptally.core.compare.RangeResult;
import sharptally.core.compare.method.Eligibility;
import sharptally.core.compare.stream.OutOfOrder;
import sharptally.core.compare.stream.StreamComparison;
import sharptally.core.compare.stream.TableComparison;
import sharptally.core.finding.Finding;
import sharptally.core.finding.FindingSink;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Side;
import sharptally.core.range.KeyRange;
import sharptally.core.types.Value;

/**
 * Looks again at rows that differed: reads those alone from both sides, in batches by key, and compares them. A match
 * whose rows can't be sought by key is compared whole.
 *
 * <p>Memory: flat by key; the earlier findings of a match that is compared whole are held.
 */
public final class Recheck {
    private static final int KEYS_PER_QUERY = 500;

    private final TableMatch match;
    private final Pair places;
    private final ComparisonContext context;
    private final Map<List<Value>, List<Finding>> batch = new LinkedHashMap<>();
    private final List<RangeResult> parts = new ArrayList<>();
    private final List<String> remarks = Collections.synchronizedList(new ArrayList<>());
    private long noLongerDifferent;
    private long still;
    private long differentInAnotherWay;
    private long sourceRowsBefore;
    private long targetRowsBefore;
    private long sameBefore;

    /**
     * What became of the differences.
     *
     * @param noLongerDifferent keys that differ no more
     * @param still keys that differ as before
     * @param differentInAnotherWay keys that differ in another way
     * @param found what the rows that were read show now
     * @param whole whether all rows were read, not just those that had differed
     * @param sourceRowsBefore how many rows the earlier findings stand for, in the source
     * @param sameBefore how many of these were the same, beside others of their key
     */
    public record Result(
            long noLongerDifferent,
            long still,
            long differentInAnotherWay,
            Outcome found,
            boolean whole,
            long sourceRowsBefore,
            long targetRowsBefore,
            long sameBefore) {}

    public Recheck(TableMatch match, Pair places, ComparisonContext context) {
        this.match = match;
        this.places = places;
        this.context = context;
    }

    /**
     * @param earlier hands over the findings of before, in key order
     * @param sink gets those of now, in key order
     */
    public Result run(Consumer<Consumer<Finding>> earlier, FindingSink sink) {
        long began = System.nanoTime();
        if (new Eligibility(match, places.source(), places.target())
                .rangeProblem()
                .isPresent()) {
            return whole(earlier, sink);
        }
        try {
            earlier.accept(finding -> {
                List<Value> key = finding.key();
                if (batch.size() == KEYS_PER_QUERY && !batch.containsKey(key)) {
                    look(sink);
                }
                batch.computeIfAbsent(key, k -> new ArrayList<>()).add(finding);
            });
            if (!batch.isEmpty()) {
                look(sink);
            }
        } catch (OutOfOrder e) {
            sink.restart();
            return whole(earlier, sink);
        }
        RangeResult part = ChangedRows.joined(match, parts);
        RangeResult told = new RangeResult(part.counts(), part.method(), part.damage(), List.copyOf(remarks));
        return new Result(
                noLongerDifferent,
                still,
                differentInAnotherWay,
                Outcome.of(told, false, Duration.ofNanos(System.nanoTime() - began)),
                false,
                sourceRowsBefore,
                targetRowsBefore,
                sameBefore);
    }

    private void look(FindingSink sink) {
        Map<List<Value>, List<Finding>> now = new LinkedHashMap<>();
        FindingSink both = new FindingSink() {
            @Override
            public void accept(Finding finding) {
                now.computeIfAbsent(finding.key(), k -> new ArrayList<>()).add(finding);
                sink.accept(finding);
            }

            @Override
            public void restart() {
                throw new IllegalStateException("a batch is not begun again");
            }
        };
        StreamComparison stretch =
                new StreamComparison(match, places, EnumSet.noneOf(Side.class), Optional.empty(), remarks, context);
        parts.add(stretch.merge(batch.keySet().stream().map(KeyRange::only).toList(), both));
        batch.forEach((key, before) -> {
            before.forEach(this::countBefore);
            List<Finding> after = now.getOrDefault(key, List.of());
            if (after.isEmpty()) {
                noLongerDifferent++;
            } else if (bare(after).equals(bare(before))) {
                still++;
            } else {
                differentInAnotherWay++;
            }
        });
        batch.clear();
    }

    /** What differs alone: columns in which both sides changed alike, and rows that stand elsewhere, are no other difference. */
    private static List<Finding> bare(List<Finding> findings) {
        return findings.stream().map(Recheck::bare).toList();
    }

    private static Finding bare(Finding finding) {
        if (finding instanceof Finding.Changed c) {
            return new Finding.Changed(c.key(), c.targetKey(), c.differences());
        } else if (finding instanceof Finding.Missing m) {
            return new Finding.Missing(m.key(), m.row(), m.times(), m.among(), m.both(), Optional.empty());
        } else if (finding instanceof Finding.Extra e) {
            return new Finding.Extra(e.key(), e.row(), e.times(), e.among(), e.both(), Optional.empty());
        }
        return finding;
    }

    /** The rows that a finding stands for; those of a repeated key are told by it, not by the rows among it. */
    private void countBefore(Finding finding) {
        if (finding instanceof Finding.Missing missing) {
            sourceRowsBefore += missing.among() ? 0 : missing.times();
            sameBefore -= missing.among() ? missing.times() : 0;
        } else if (finding instanceof Finding.Extra extra) {
            targetRowsBefore += extra.among() ? 0 : extra.times();
        } else if (finding instanceof Finding.Repeated repeated) {
            sourceRowsBefore += repeated.inSource();
            targetRowsBefore += repeated.inTarget();
            sameBefore += repeated.inSource();
        } else {
            sourceRowsBefore++;
            targetRowsBefore++;
        }
    }

    private Result whole(Consumer<Consumer<Finding>> earlier, FindingSink sink) {
        Set<Finding> before = new HashSet<>();
        earlier.accept(finding -> before.add(bare(finding)));
        long[] same = {0};
        long[] other = {0};
        Outcome outcome = new TableComparison(match, places, context).run(new FindingSink() {
            @Override
            public void accept(Finding finding) {
                (before.contains(bare(finding)) ? same : other)[0]++;
                sink.accept(finding);
            }

            @Override
            public void restart() {
                same[0] = 0;
                other[0] = 0;
                sink.restart();
            }
        });
        return new Result(Math.max(0, before.size() - same[0] - other[0]), same[0], other[0], outcome, true, 0, 0, 0);
    }
}
