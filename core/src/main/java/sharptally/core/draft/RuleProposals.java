package sharptally.core.draft;

import java.math.BigDecimal;
import java.math.MathContext;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.Consumer;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import sharptally.core.draft.Proposal.ByRules;
import sharptally.core.draft.Proposal.Change;
import sharptally.core.draft.Proposal.Example;
import sharptally.core.draft.Proposal.LeftOut;
import sharptally.core.draft.Proposal.Scaled;
import sharptally.core.finding.Difference;
import sharptally.core.finding.Finding;
import sharptally.core.finding.FindingFilter;
import sharptally.core.match.ColumnPair;
import sharptally.core.match.TableMatch;
import sharptally.core.rule.Rule;
import sharptally.core.rule.TimeStep;
import sharptally.core.types.Kind;
import sharptally.core.types.Numbers;
import sharptally.core.types.Value;

/**
 * Proposes rules by which most values of a column that differ would be the same: chosen by a sample of them, the tightest that
 * does nearly as much as the loosest, then counted on all. Memory: a sample of 2,000 a column that differs.
 */
public final class RuleProposals {
    private static final int SAMPLE = 2_000;
    private static final int ZONE_SAMPLE = 200;
    private static final int EXAMPLES = 3;
    private static final int MOST_A_COLUMN = 2;
    private static final int MOST_MAPPED = 50;
    private static final int LEAST_A_VALUE = 3;
    private static final int LEAST_LEFT_OUT = 20;
    private static final double LEAST_SHARE = 0.3;
    private static final double LEAST_FURTHER_SHARE = 0.1;
    private static final double NEARLY_AS_MUCH = 0.9;
    private static final double CONSISTENT = 0.95;
    private static final double LEAST_TRANSLATED = 0.5;
    private static final double LEAST_RENAMED = 0.1;

    private final TableMatch match;
    private final long rows;
    private final Consumer<Consumer<Finding>> findings;

    /** What is known of a column from the first pass. */
    private static final class Seen {
        private final List<Difference> sample = new ArrayList<>();
        private final Random random = new Random(1);
        private long all;
        private long alone;

        void add(Difference difference, boolean isAlone) {
            all++;
            alone += isAlone ? 1 : 0;
            if (sample.size() < SAMPLE) {
                sample.add(difference);
            } else if (random.nextDouble() * all < SAMPLE) {
                sample.set(random.nextInt(SAMPLE), difference);
            }
        }
    }

    /** What a change does to all values of its column. */
    private static final class Counting {
        private final Explaining change;
        private final List<Example> hides = new ArrayList<>();
        private long explains;

        Counting(Explaining change) {
            this.change = change;
        }
    }

    /**
     * @param rows how many rows of the match both sides have
     * @param findings hands over the findings of the match; called twice
     */
    public RuleProposals(TableMatch match, long rows, Consumer<Consumer<Finding>> findings) {
        this.match = match;
        this.rows = rows;
        this.findings = findings;
    }

    /** The proposals, of the columns in their order. */
    public List<Proposal> list() {
        Map<Integer, Seen> seen = new TreeMap<>();
        findings.accept(finding -> {
            if (finding instanceof Finding.Changed changed) {
                boolean alone = changed.differences().size() == 1;
                changed.differences()
                        .forEach(d ->
                                seen.computeIfAbsent(d.pair(), p -> new Seen()).add(d, alone));
            }
        });
        Map<Integer, List<Counting>> countings = new HashMap<>();
        seen.forEach((pair, column) -> countings.put(
                pair,
                chosen(match.pairs().get(pair), column).stream()
                        .map(Counting::new)
                        .toList()));
        Map<Integer, List<Example>> leaves = new HashMap<>();
        findings.accept(finding -> {
            if (finding instanceof Finding.Changed changed) {
                changed.differences()
                        .forEach(d -> count(
                                d,
                                FindingFilter.keyText(changed.key()),
                                countings.getOrDefault(d.pair(), List.of()),
                                leaves.computeIfAbsent(d.pair(), p -> new ArrayList<>())));
            }
        });
        List<Proposal> proposals = new ArrayList<>();
        seen.forEach((place, column) -> {
            ColumnPair pair = match.pairs().get(place);
            List<Example> left = leaves.getOrDefault(place, List.of());
            List<Counting> all = countings.getOrDefault(place, List.of());
            all.forEach(
                    c -> proposals.add(new Proposal(pair, c.change.change(), c.explains, column.all, c.hides, left)));
            boolean often = column.all >= LEAST_LEFT_OUT && column.all >= rows * LEAST_FURTHER_SHARE;
            if (all.isEmpty() && often && column.alone >= column.all * 0.5 && !isKey(place)) {
                proposals.add(new Proposal(pair, new LeftOut(), column.alone, column.all, left, List.of()));
            }
        });
        return proposals;
    }

    private boolean isKey(int place) {
        return match.key().contains(place);
    }

    private static void count(Difference difference, String key, List<Counting> countings, List<Example> leaves) {
        for (Counting counting : countings) {
            if (counting.change.explains(difference)) {
                counting.explains++;
                if (counting.hides.size() < EXAMPLES) {
                    counting.hides.add(new Example(key, difference.source(), difference.target()));
                }
                return;
            }
        }
        if (leaves.size() < EXAMPLES) {
            leaves.add(new Example(key, difference.source(), difference.target()));
        }
    }

    /** The changes of one column, each chosen by what those before it do not explain. */
    private List<Explaining> chosen(ColumnPair pair, Seen column) {
        List<Difference> sample = column.sample;
        List<Explaining> chosen = new ArrayList<>();
        List<Difference> left = new ArrayList<>(sample);
        while (chosen.size() < MOST_A_COLUMN && left.size() > 1) {
            List<Difference> now = left;
            List<Explaining> candidates = candidates(pair, now, (double) column.all / Math.max(1, rows)).stream()
                    .filter(c -> chosen.stream().noneMatch(other -> clashes(other.change(), c)))
                    .map(c -> new Explaining(pair, c))
                    .filter(c ->
                            Rounding.of(c.change()).filter(r -> !r.isOf(c, now)).isEmpty())
                    .toList();
            long[] explained = candidates.stream()
                    .mapToLong(c -> now.stream().filter(c::explains).count())
                    .toArray();
            long most = java.util.Arrays.stream(explained).max().orElse(0);
            double least = Math.max(2, sample.size() * (chosen.isEmpty() ? LEAST_SHARE : LEAST_FURTHER_SHARE));
            if (most < least) {
                return chosen;
            }
            Explaining best = IntStream.range(0, explained.length)
                    .filter(i -> explained[i] >= most * NEARLY_AS_MUCH)
                    .mapToObj(candidates::get)
                    .findFirst()
                    .orElseThrow();
            chosen.add(best);
            left = now.stream().filter(d -> !best.explains(d)).toList();
        }
        return chosen;
    }

    /** Whether two changes can't stand beside each other: by the same rules, or both of what is read. */
    private static boolean clashes(Change one, Change other) {
        if (one instanceof Scaled || other instanceof Scaled || one.translates() && other.translates()) {
            return true;
        }
        return one instanceof ByRules by
                && other instanceof ByRules too
                && by.rules().stream()
                        .anyMatch(
                                r -> too.rules().stream().anyMatch(s -> s.word().equals(r.word())));
    }

    /**
     * All that may be, the tightest first.
     *
     * @param share of all rows in which the column differs: what changes values that are the same now is for most of them
     */
    private static List<Change> candidates(ColumnPair pair, List<Difference> sample, double share) {
        List<List<Rule>> rules = new ArrayList<>();
        rules.add(List.of(new Rule.EmptyAsNull()));
        rules.add(List.of(new Rule.Spaces(true, false)));
        rules.add(List.of(new Rule.Unicode("NFC")));
        rules.add(List.of(new Rule.IgnoreCase()));
        rules.add(List.of(new Rule.Spaces(true, true)));
        rules.add(List.of(new Rule.Spaces(true, false), new Rule.EmptyAsNull()));
        rules.add(List.of(new Rule.Spaces(true, true), new Rule.IgnoreCase()));
        rules.add(List.of(new Rule.JsonMeaning()));
        rules.add(List.of(new Rule.AnyOrder(",")));
        for (int places = 9; places >= 0; places--) {
            rules.add(List.of(new Rule.Decimals(places)));
        }
        for (String bound : List.of("0.000000001", "0.000001", "0.0001")) {
            rules.add(List.of(new Rule.Within(BigDecimal.ZERO, new BigDecimal(bound), false)));
        }
        for (TimeStep step : List.of(TimeStep.MICROSECOND, TimeStep.MILLISECOND, TimeStep.SECOND, TimeStep.MINUTE)) {
            rules.add(List.of(new Rule.Precision(step)));
        }
        // A factor or a zone has to hit each value exactly; a unit that is coarse enough hides any offset.
        List<Change> candidates = new ArrayList<>();
        if (share >= LEAST_TRANSLATED) {
            factor(sample).map(Scaled::new).ifPresent(candidates::add);
            zone(pair, sample).map(zone -> new ByRules(List.of(zone))).ifPresent(candidates::add);
        }
        rules.stream()
                .filter(all -> all.stream().allMatch(r -> r.fits(pair.comparedAs())))
                .map(ByRules::new)
                .forEach(candidates::add);
        if (share >= LEAST_RENAMED) {
            sameAs(sample).map(map -> new ByRules(List.of(map))).ifPresent(candidates::add);
        }
        return candidates;
    }

    /** By what most numbers of the source are to be multiplied. */
    private static Optional<BigDecimal> factor(List<Difference> sample) {
        Map<BigDecimal, Long> ratios = new HashMap<>();
        for (Difference difference : sample) {
            Optional<BigDecimal> source = Numbers.of(difference.source());
            Optional<BigDecimal> target = Numbers.of(difference.target());
            if (source.filter(n -> n.signum() != 0).isPresent()
                    && target.filter(n -> n.signum() != 0).isPresent()) {
                BigDecimal ratio =
                        target.get().divide(source.get(), MathContext.DECIMAL64).stripTrailingZeros();
                if (ratio.signum() > 0 && ratio.compareTo(BigDecimal.ONE) != 0) {
                    ratios.merge(ratio, 1L, Long::sum);
                }
            }
        }
        return ratios.entrySet().stream()
                .filter(e -> e.getValue() >= Math.max(LEAST_A_VALUE, sample.size() * LEAST_SHARE))
                .max(Map.Entry.comparingByValue())
                .map(Map.Entry::getKey);
    }

    /** The zone in which the times of one side are, by which most are the same instants. */
    private static Optional<Rule> zone(ColumnPair pair, List<Difference> sample) {
        if (pair.comparedAs() != Kind.TIMESTAMP && pair.comparedAs() != Kind.INSTANT) {
            return Optional.empty();
        }
        List<Difference> some = sample.stream()
                .filter(d -> !(d.source() instanceof Value.Null) && !(d.target() instanceof Value.Null))
                .limit(ZONE_SAMPLE)
                .toList();
        Optional<Rule> best = Optional.empty();
        long most = Math.max(LEAST_A_VALUE - 1, (long) (some.size() * LEAST_SHARE));
        for (String name : new TreeSet<>(ZoneId.getAvailableZoneIds())) {
            if (!name.matches("(Europe|America|Asia|Africa|Australia|Pacific|Atlantic|Indian)/.*")) {
                continue;
            }
            for (boolean ofSource : new boolean[] {true, false}) {
                Rule.Zone zone = ofSource
                        ? new Rule.Zone(Optional.of(name), Optional.empty())
                        : new Rule.Zone(Optional.empty(), Optional.of(name));
                Explaining explaining = new Explaining(pair, new ByRules(List.of(zone)));
                long explained = some.stream().filter(explaining::explains).count();
                // Of zones that are alike, those of Europe and America are told rather than others.
                if (explained > most
                        || explained == most
                                && best.filter(b -> isFar((Rule.Zone) b)).isPresent()
                                && !isFar(zone)) {
                    most = explained;
                    best = Optional.of(zone);
                }
            }
        }
        return best;
    }

    private static boolean isFar(Rule.Zone zone) {
        return !zone.source().or(zone::target).orElse("").matches("(Europe|America)/.*");
    }

    /** What the target calls the few values that the source has. */
    private static Optional<Rule> sameAs(List<Difference> sample) {
        Map<String, Map<Optional<String>, Long>> called = new HashMap<>();
        for (Difference difference : sample) {
            if (difference.source() instanceof Value.Null) {
                continue;
            }
            called.computeIfAbsent(difference.source().toString(), s -> new HashMap<>())
                    .merge(
                            difference.target() instanceof Value.Null
                                    ? Optional.empty()
                                    : Optional.of(difference.target().toString()),
                            1L,
                            Long::sum);
            if (called.size() > MOST_MAPPED * 2) {
                return Optional.empty();
            }
        }
        Map<String, String> values = new HashMap<>();
        Set<String> nulls = new HashSet<>();
        called.forEach((source, targets) -> {
            long all = targets.values().stream().mapToLong(Long::longValue).sum();
            Map.Entry<Optional<String>, Long> most = targets.entrySet().stream()
                    .max(Map.Entry.comparingByValue())
                    .orElseThrow();
            if (all >= LEAST_A_VALUE && most.getValue() >= all * CONSISTENT) {
                most.getKey().ifPresentOrElse(target -> values.put(source, target), () -> nulls.add(source));
            }
        });
        return values.size() + nulls.size() == 0 || values.size() + nulls.size() > MOST_MAPPED
                ? Optional.empty()
                : Optional.of(new Rule.SameAs(values, nulls));
    }

    /** Proposals of one match, those that do most first. */
    public static List<Proposal> ordered(Stream<Proposal> proposals) {
        return proposals
                .sorted(Comparator.comparingLong(Proposal::explains).reversed())
                .toList();
    }
}
