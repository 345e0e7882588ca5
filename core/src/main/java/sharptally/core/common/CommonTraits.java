package sharptally.core.common;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Predicate;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.Value;

/**
 * Finds the few traits that best tell some rows from others: one by one, and two together. Nothing is told that chance explains:
 * the probability of each is multiplied by how many were tried, so that of tables whose damage has nothing in common, about
 * one in a thousand is said to have something. Memory: what the rows take, and a bit for each row and each of some hundred
 * traits. Used once.
 */
public final class CommonTraits {
    private static final double LOG_ALPHA = Math.log(0.001);

    /** Less than this tells nobody anything, however sure it is. */
    private static final double LEAST_WEIGHT = 0.2;

    /** By so much two traits together must tell more than one of them. */
    private static final double LEAST_GAIN = 0.04;

    /** Between traits that differ by less, the simpler one is told. */
    private static final double ALIKE = 0.015;

    /** So many rows can be looked at, of both kinds together. */
    public static final int MAX_ROWS = Chance.MOST - 1;

    private static final int MAX_TOLD = 3;
    private static final int CUTS = 48;
    private static final int MAX_VALUES = 12;
    private static final int MAX_SET = 5;

    private static final double LEAST_SHARE = 0.02;

    private static final int LEAST_IN_SET = 3;
    private static final double LEAST_SHARE_IN_SET = 0.05;
    private static final double LEAST_LEFT = 0.05;
    private static final int PAIRED = 40;
    private static final int PER_FEATURE = 3;

    private final List<ColumnShape> columns;
    private final List<? extends List<@Nullable Value>> differing;
    private final List<? extends List<@Nullable Value>> same;
    private final List<Candidate> candidates = new ArrayList<>();
    private int tried;

    /**
     * Traits with the rows that have them.
     *
     * @param logTries the logarithm of how many others like it were tried in the same place
     */
    private record Candidate(List<Trait> traits, int column, double logTries, BitSet differing, BitSet same) {
        int rank() {
            return traits.stream().mapToInt(Trait::rank).sum() + 5 * (traits.size() - 1);
        }

        Candidate and(Candidate other) {
            BitSet both = (BitSet) differing.clone();
            both.and(other.differing);
            BitSet bothSame = (BitSet) same.clone();
            bothSame.and(other.same);
            return new Candidate(
                    List.of(traits.get(0), other.traits.get(0)), column, logTries + other.logTries, both, bothSame);
        }
    }

    /** Rows that have none of the traits that were told. */
    private record Left(BitSet differing, BitSet same) {}

    /**
     * @param columns of the rows
     * @param differing a value for each column, null where it is not known
     * @param same rows like those, of which nothing differs
     */
    public CommonTraits(
            List<ColumnShape> columns,
            List<? extends List<@Nullable Value>> differing,
            List<? extends List<@Nullable Value>> same) {
        if (differing.size() + same.size() > MAX_ROWS) {
            throw new IllegalArgumentException("more rows than " + MAX_ROWS);
        }
        this.columns = List.copyOf(columns);
        this.differing = List.copyOf(differing);
        this.same = List.copyOf(same);
    }

    /** Adds a trait that no column has alone. */
    public void add(String words, Predicate<List<@Nullable Value>> has) {
        keep(-1, new Trait(words, 1), 0, has);
    }

    private void keep(int column, Trait trait, double logTries, Predicate<List<@Nullable Value>> has) {
        tried++;
        candidates.add(new Candidate(List.of(trait), column, logTries, having(differing, has), having(same, has)));
    }

    private static BitSet having(List<? extends List<@Nullable Value>> rows, Predicate<List<@Nullable Value>> has) {
        BitSet bits = new BitSet(rows.size());
        IntStream.range(0, rows.size()).filter(i -> has.test(rows.get(i))).forEach(bits::set);
        return bits;
    }

    /**
     * At most three: the one that tells most, and then what tells most of the rows that none before has. Empty where nothing can
     * be told that chance does not explain.
     */
    public List<Common> find() {
        List<Common> found = new ArrayList<>();
        if (differing.isEmpty() || same.isEmpty()) {
            return found;
        }
        for (int column = 0; column < columns.size(); column++) {
            look(column);
        }
        Left left = all();
        while (found.size() < MAX_TOLD
                && left.differing.cardinality() >= differing.size() * LEAST_LEFT
                && !left.same.isEmpty()) {
            Optional<Candidate> best = best(left);
            if (best.isEmpty()) {
                break;
            }
            Candidate told = best.get();
            found.add(new Common(
                    told.traits, told.differing.cardinality(), differing.size(), told.same.cardinality(), same.size()));
            left.differing.andNot(told.differing);
            // What is left of both has not what was told: else its contrary would seem to tell something.
            left.same.andNot(told.same);
        }
        return found;
    }

    private Left all() {
        Left all = new Left(new BitSet(), new BitSet());
        all.differing.set(0, differing.size());
        all.same.set(0, same.size());
        return all;
    }

    /** What tells most of the rows that are left, alone or together with another one. */
    private Optional<Candidate> best(Left left) {
        List<Candidate> strong =
                weighed(candidates, left).limit(PAIRED).map(Weighed::candidate).toList();
        Optional<Candidate> alone = simplest(strong, left);
        double least = alone.map(c -> weight(c, left)).orElse(0.0) + LEAST_GAIN;
        List<Candidate> pairs = new ArrayList<>();
        for (int i = 0; i < strong.size(); i++) {
            for (int j = i + 1; j < strong.size(); j++) {
                if (strong.get(i).column != strong.get(j).column) {
                    Candidate pair = strong.get(i).and(strong.get(j));
                    if (weight(pair, left) >= least) {
                        pairs.add(pair);
                    }
                }
            }
        }
        return simplest(pairs, left).or(() -> alone);
    }

    /** Of those that tell about as much as any, the simplest. */
    private Optional<Candidate> simplest(List<Candidate> of, Left left) {
        List<Candidate> sure = of.stream()
                .filter(c -> weight(c, left) >= LEAST_WEIGHT && isSure(c, left))
                .toList();
        double most = sure.stream().mapToDouble(c -> weight(c, left)).max().orElse(0);
        return sure.stream()
                .filter(c -> weight(c, left) >= most - ALIKE)
                .min(Comparator.comparingInt(Candidate::rank).thenComparingDouble(c -> -weight(c, left)));
    }

    private static int both(BitSet one, BitSet other) {
        BitSet both = (BitSet) one.clone();
        both.and(other);
        return both.cardinality();
    }

    private static double weight(Candidate candidate, Left left) {
        return (double) both(candidate.differing, left.differing) / left.differing.cardinality()
                - (double) both(candidate.same, left.same) / left.same.cardinality();
    }

    private boolean isSure(Candidate candidate, Left left) {
        double tries = candidate.logTries + candidate.traits.size() * Math.log(tried);
        double chance = Chance.log(
                both(candidate.differing, left.differing),
                left.differing.cardinality(),
                both(candidate.same, left.same),
                left.same.cardinality());
        return chance + tries <= LOG_ALPHA;
    }

    private void look(int column) {
        String name = columns.get(column).name();
        if (columns.get(column).nullable()) {
            keep(column, new Trait(name + " is NULL", 0), 0, row -> row.get(column) instanceof Value.Null);
            keep(
                    column,
                    new Trait(name + " is not NULL", 0),
                    0,
                    row -> row.get(column) != null && !(row.get(column) instanceof Value.Null));
        }
        Wholes ours = Wholes.of(differing, column);
        Wholes theirs = Wholes.of(same, column);
        for (int divisor : ours.isEmpty() ? new int[0] : Features.DIVISORS) {
            tried += 3;
            remainders(column, divisor, ours, theirs);
        }
        for (Features.Feature feature : Features.of(columns.get(column))) {
            tried += 3;
            feature(column, feature);
        }
    }

    private void feature(int column, Features.Feature feature) {
        List<@Nullable Object> ours = values(feature, differing, column);
        if (feature.between() == null && counts(ours).values().stream().noneMatch(n -> n >= least())) {
            return;
        }
        List<@Nullable Object> theirs = values(feature, same, column);
        List<Candidate> found = new ArrayList<>();
        choose(column, feature, ours, theirs, found);
        if (feature.between() != null) {
            ranges(column, feature, ours, theirs, found);
        }
        weighed(found, all()).limit(PER_FEATURE).forEach(w -> candidates.add(w.candidate));
    }

    /** Whole numbers of a column, of which there are many to be divided by many. */
    private record Wholes(long[] values, BitSet known) {
        static Wholes of(List<? extends List<@Nullable Value>> rows, int column) {
            long[] values = new long[rows.size()];
            BitSet known = new BitSet(rows.size());
            for (int i = 0; i < values.length; i++) {
                if (rows.get(i).get(column) instanceof Value.Int whole) {
                    values[i] = whole.value();
                    known.set(i);
                }
            }
            return new Wholes(values, known);
        }

        boolean isEmpty() {
            return known.isEmpty();
        }

        int[] counts(int divisor) {
            int[] counts = new int[divisor];
            known.stream().forEach(i -> counts[Math.floorMod(values[i], divisor)]++);
            return counts;
        }

        BitSet leaving(int rest, int divisor) {
            BitSet rows = new BitSet(values.length);
            known.stream()
                    .filter(i -> Math.floorMod(values[i], divisor) == rest)
                    .forEach(rows::set);
            return rows;
        }
    }

    private void remainders(int column, int divisor, Wholes ours, Wholes theirs) {
        int[] here = ours.counts(divisor);
        int[] there = theirs.counts(divisor);
        double one = Math.log(IntStream.range(0, divisor)
                .filter(rest -> here[rest] + there[rest] > 0)
                .count());
        IntStream.range(0, divisor)
                .filter(rest -> here[rest] >= least())
                .boxed()
                .sorted(Comparator.comparingDouble(
                        rest -> (double) there[rest] / same.size() - (double) here[rest] / differing.size()))
                .limit(PER_FEATURE)
                .forEach(rest -> candidates.add(new Candidate(
                        List.of(new Trait(Features.remainder(columns.get(column).name(), rest, divisor), 2)),
                        column,
                        one,
                        ours.leaving(rest, divisor),
                        theirs.leaving(rest, divisor))));
    }

    /** With what it tells of the rows that are left. */
    private record Weighed(Candidate candidate, double weight) {}

    /** What tells most first. */
    private static Stream<Weighed> weighed(List<Candidate> all, Left left) {
        return all.stream()
                .map(c -> new Weighed(c, weight(c, left)))
                .sorted(Comparator.comparingDouble((Weighed w) -> -w.weight));
    }

    /** What fewer rows have explains none of them. */
    private double least() {
        return Math.max(2, LEAST_SHARE * differing.size());
    }

    private static List<@Nullable Object> values(
            Features.Feature feature, List<? extends List<@Nullable Value>> rows, int column) {
        List<@Nullable Object> values = new ArrayList<>(rows.size());
        for (List<@Nullable Value> row : rows) {
            Value value = row.get(column);
            values.add(
                    value == null || value instanceof Value.Null
                            ? null
                            : feature.of().apply(value));
        }
        return values;
    }

    private static Map<Object, Integer> counts(List<@Nullable Object> values) {
        Map<Object, Integer> counts = new HashMap<>();
        values.stream().filter(Objects::nonNull).forEach(v -> counts.merge(v, 1, Integer::sum));
        return counts;
    }

    /** Single values, and some together. */
    private void choose(
            int column,
            Features.Feature feature,
            List<@Nullable Object> ours,
            List<@Nullable Object> theirs,
            List<Candidate> found) {
        Map<Object, Integer> here = counts(ours);
        Map<Object, Integer> there = counts(theirs);
        List<Object> best = here.keySet().stream()
                .filter(v -> here.get(v) >= least())
                .filter(v -> feature.rank() != 1 || !feature.equal().apply(v).isEmpty())
                .sorted(Comparator.comparingDouble((Object v) -> (double) there.getOrDefault(v, 0) / same.size()
                                - (double) here.get(v) / differing.size())
                        .thenComparing(String::valueOf))
                .limit(MAX_VALUES)
                .toList();
        // So many could have been chosen.
        Set<Object> all = new HashSet<>(here.keySet());
        all.addAll(there.keySet());
        double one = Math.log(all.size());
        Set<Object> set = new HashSet<>();
        List<String> words = new ArrayList<>();
        double logTries = 0;
        for (int i = 0; i < best.size(); i++) {
            Object value = best.get(i);
            Trait trait = new Trait(feature.equal().apply(value), feature.rank() == 3 ? 1 : feature.rank());
            found.add(candidate(column, trait, one, ours, theirs, value::equals));
            boolean more =
                    here.get(value) * (double) same.size() > there.getOrDefault(value, 0) * (double) differing.size();
            boolean often = here.get(value) >= Math.max(LEAST_IN_SET, LEAST_SHARE_IN_SET * differing.size());
            if (i < MAX_SET && more && often && feature.rank() < 2) {
                set.add(value);
                words.add(trait.words());
                // So many sets of this size there are.
                logTries += Math.log((double) (all.size() - i) / (i + 1));
                if (i > 0) {
                    Set<Object> now = Set.copyOf(set);
                    found.add(candidate(
                            column,
                            new Trait("(" + String.join(" or ", words) + ")", 1 + i),
                            logTries,
                            ours,
                            theirs,
                            now::contains));
                }
            }
        }
    }

    private static Candidate candidate(
            int column,
            Trait trait,
            double logTries,
            List<@Nullable Object> ours,
            List<@Nullable Object> theirs,
            Predicate<Object> has) {
        return new Candidate(List.of(trait), column, logTries, values(ours, has), values(theirs, has));
    }

    private static BitSet values(List<@Nullable Object> values, Predicate<Object> has) {
        BitSet bits = new BitSet(values.size());
        for (int i = 0; i < values.size(); i++) {
            Object value = values.get(i);
            if (value != null && has.test(value)) {
                bits.set(i);
            }
        }
        return bits;
    }

    /** From one of the values that differing rows hold up to another one, the best of them; and from or up to one. */
    @SuppressWarnings("unchecked")
    private void ranges(
            int column,
            Features.Feature feature,
            List<@Nullable Object> ours,
            List<@Nullable Object> theirs,
            List<Candidate> found) {
        List<Comparable<Object>> here = sorted(ours);
        List<Comparable<Object>> there = sorted(theirs);
        if (here.isEmpty()) {
            return;
        }
        List<Comparable<Object>> distinct = here.stream().distinct().toList();
        TreeMap<Comparable<Object>, Integer> cuts = new TreeMap<>();
        for (int i = 0; i < CUTS; i++) {
            cuts.put(here.get((int) ((long) i * (here.size() - 1) / (CUTS - 1))), 0);
        }
        List<Comparable<Object>> bounds = List.copyOf(cuts.keySet());
        double tries = Math.log(distinct.size()) + Math.log(distinct.size() + 1.0);
        double best = Double.NEGATIVE_INFINITY;
        Object[] range = new Object[2];
        for (int from = 0; from < bounds.size(); from++) {
            for (int to = from; to < bounds.size(); to++) {
                double weight =
                        share(here, bounds.get(from), bounds.get(to)) - share(there, bounds.get(from), bounds.get(to));
                if (weight > best) {
                    best = weight;
                    range = new Object[] {bounds.get(from), bounds.get(to)};
                }
            }
        }
        // Open at an end where nothing lies beyond it.
        boolean least = there.isEmpty() || there.get(0).compareTo(range[0]) >= 0;
        boolean most = there.isEmpty() || there.get(there.size() - 1).compareTo(range[1]) <= 0;
        Object first = range[0];
        Object last = range[1];
        if (first.equals(last) || least && most) {
            return;
        }
        String words = Objects.requireNonNull(feature.between()).apply(least ? null : first, most ? null : last);
        found.add(candidate(
                column,
                new Trait(words, feature.rank() + (least || most ? 0 : 1)),
                tries,
                ours,
                theirs,
                v -> ((Comparable<Object>) v).compareTo(first) >= 0 && ((Comparable<Object>) v).compareTo(last) <= 0));
    }

    @SuppressWarnings("unchecked")
    private static List<Comparable<Object>> sorted(List<@Nullable Object> values) {
        List<Comparable<Object>> known = new ArrayList<>();
        values.stream().filter(Objects::nonNull).forEach(v -> known.add((Comparable<Object>) v));
        known.sort(Comparator.comparing(v -> v, (a, b) -> a.compareTo(b)));
        return known;
    }

    private static double share(List<Comparable<Object>> sorted, Object from, Object to) {
        return sorted.isEmpty() ? 0 : (double) (below(sorted, to, true) - below(sorted, from, false)) / sorted.size();
    }

    /** How many are less than a value, or as large. */
    private static int below(List<Comparable<Object>> sorted, Object value, boolean orEqual) {
        int low = 0;
        int high = sorted.size();
        while (low < high) {
            int middle = (low + high) >>> 1;
            int order = sorted.get(middle).compareTo(value);
            if (order < 0 || orEqual && order == 0) {
                low = middle + 1;
            } else {
                high = middle;
            }
        }
        return low;
    }
}
