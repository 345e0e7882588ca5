package sharptally.core.draft;

import java.math.BigDecimal;
import java.math.MathContext;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.UnaryOperator;
import sharptally.core.draft.Draft.Translation;
import sharptally.core.types.Kind;

/**
 * Holds the columns of two samples against each other by what they contain. Where a column that is unique on both sides
 * links rows of one sample to rows of the other, columns are compared row by row, which tells even flags apart and finds
 * values that were scaled or written in another way; elsewhere only sets and shares of values can be.
 */
final class ContentPairs {
    private static final int LEAST_LINKED = 12;
    private static final double LEAST_LINK_OVERLAP = 0.3;
    private static final double ENOUGH = 0.9;
    private static final int MAX_TRANSLATED = 40;

    private final Sample source;
    private final Sample target;
    private final List<Sketch> ofSource = new ArrayList<>();
    private final List<Sketch> ofTarget = new ArrayList<>();
    private final List<List<List<String>>> linked;

    /**
     * How likely two columns hold the same.
     *
     * @param likelihood from 0 to 1
     * @param says why, in words
     */
    record Score(double likelihood, String says, Optional<Translation> translation) {}

    /**
     * @param links pairs of columns that are known to belong together, by their places
     */
    ContentPairs(Sample source, Sample target, List<int[]> links) {
        this.source = source;
        this.target = target;
        for (int c = 0; c < source.columns().size(); c++) {
            ofSource.add(Sketch.of(source.column(c)));
        }
        for (int c = 0; c < target.columns().size(); c++) {
            ofTarget.add(Sketch.of(target.column(c)));
        }
        this.linked = link(links);
    }

    private List<List<List<String>>> link(List<int[]> known) {
        List<List<List<String>>> best = List.of();
        for (int[] pair : known) {
            best = longer(best, linkedBy(pair[0], pair[1]));
        }
        if (best.size() >= LEAST_LINKED) {
            return best;
        }
        for (int s = 0; s < ofSource.size(); s++) {
            if (!isTelling(source, s)) {
                continue;
            }
            for (int t = 0; t < ofTarget.size(); t++) {
                boolean likely = isTelling(target, t) && ofSource.get(s).overlap(ofTarget.get(t)) > LEAST_LINK_OVERLAP;
                if (likely) {
                    best = longer(best, linkedBy(s, t));
                }
            }
        }
        return best.size() >= LEAST_LINKED ? best : List.of();
    }

    /** Unique, and no running number: those of two tables overlap without meaning the same rows. */
    private static boolean isTelling(Sample sample, int column) {
        boolean whole = sample.columns().get(column).type().orElseThrow().kind() == Kind.INTEGER;
        boolean declared =
                sample.table().holdsUnique(List.of(sample.columns().get(column).name()));
        return (!whole || declared) && sample.isUnique(List.of(column));
    }

    private static <T> List<T> longer(List<T> one, List<T> other) {
        return other.size() > one.size() ? other : one;
    }

    private List<List<List<String>>> linkedBy(int s, int t) {
        if (!source.isUnique(List.of(s)) || !target.isUnique(List.of(t))) {
            return List.of();
        }
        Map<List<String>, List<String>> other = target.byKey(List.of(t));
        List<List<List<String>>> rows = new ArrayList<>();
        source.byKey(List.of(s)).forEach((key, row) -> {
            List<String> counterpart = other.get(key);
            if (counterpart != null) {
                rows.add(List.of(row, counterpart));
            }
        });
        return rows;
    }

    /** How many rows of the one sample are linked to rows of the other. */
    int linkedRows() {
        return linked.size();
    }

    Sketch sketch(boolean ofTheSource, int column) {
        return (ofTheSource ? ofSource : ofTarget).get(column);
    }

    Score score(int s, int t) {
        return linked.isEmpty() ? bySets(s, t) : byRows(s, t);
    }

    private Score bySets(int s, int t) {
        Sketch one = ofSource.get(s);
        Sketch other = ofTarget.get(t);
        double overlap = one.overlap(other);
        double alike = one.alike(other);
        boolean weak = one.tellsLittle() || other.tellsLittle();
        double likelihood = weak ? 0.3 * overlap + 0.45 * alike : 0.75 * overlap + 0.25 * alike;
        return new Score(likelihood, percent(overlap) + " of the values are the same", Optional.empty());
    }

    private Score byRows(int s, int t) {
        List<String> ones = new ArrayList<>();
        List<String> others = new ArrayList<>();
        int bothNull = 0;
        for (List<List<String>> pair : linked) {
            String one = pair.get(0).get(s);
            String other = pair.get(1).get(t);
            if (one.equals(Sample.NULL) && other.equals(Sample.NULL)) {
                bothNull++;
            } else {
                ones.add(one);
                others.add(other);
            }
        }
        if (ones.isEmpty()) {
            return new Score(0.2, "both are NULL throughout the sample", Optional.empty());
        }
        boolean constant = new HashSet<>(ones).size() == 1 && new HashSet<>(others).size() == 1 && bothNull == 0;
        double agree = agreement(ones, others, UnaryOperator.identity());
        if (agree >= ENOUGH) {
            return new Score(
                    constant ? 0.4 : agree,
                    percent(agree) + " of " + ones.size() + " rows agree" + (constant ? ", all being one value" : ""),
                    Optional.empty());
        }
        return translated(ones, others)
                .map(t2 -> new Score(0.9 * ENOUGH, says(t2), Optional.of(t2)))
                .orElseGet(() -> new Score(
                        agree * 0.9, percent(agree) + " of " + ones.size() + " rows agree", Optional.empty()));
    }

    private static String says(Translation translation) {
        return translation
                .factor()
                .map(f -> "the target's numbers are the source's times " + f)
                .or(() -> translation.rule().map(r -> "the values agree by rule " + r))
                .orElse("each value of the source stands for one of the target");
    }

    private static double agreement(List<String> ones, List<String> others, UnaryOperator<String> form) {
        int same = 0;
        for (int i = 0; i < ones.size(); i++) {
            same += form.apply(ones.get(i)).equals(form.apply(others.get(i))) ? 1 : 0;
        }
        return (double) same / ones.size();
    }

    private static String percent(double share) {
        return Math.round(share * 100) + " %";
    }

    /** How the one column's values become the other's, if there is such a way. */
    private static Optional<Translation> translated(List<String> ones, List<String> others) {
        Optional<String> factor = factor(ones, others);
        if (factor.isPresent()) {
            return Optional.of(new Translation(factor, Map.of(), Optional.empty()));
        }
        if (agreement(ones, others, t -> t.toLowerCase(Locale.ROOT)) >= ENOUGH) {
            return Optional.of(new Translation(Optional.empty(), Map.of(), Optional.of("case")));
        }
        if (agreement(ones, others, String::strip) >= ENOUGH) {
            return Optional.of(new Translation(Optional.empty(), Map.of(), Optional.of("spaces")));
        }
        return map(ones, others).map(m -> new Translation(Optional.empty(), m, Optional.empty()));
    }

    private static Optional<String> factor(List<String> ones, List<String> others) {
        Map<BigDecimal, Integer> factors = new HashMap<>();
        int pairs = 0;
        for (int i = 0; i < ones.size(); i++) {
            try {
                BigDecimal one = new BigDecimal(ones.get(i));
                BigDecimal other = new BigDecimal(others.get(i));
                if (one.signum() != 0 && other.signum() != 0) {
                    pairs++;
                    BigDecimal factor = other.divide(one, MathContext.DECIMAL64)
                            .round(new MathContext(6))
                            .stripTrailingZeros();
                    factors.merge(factor, 1, Integer::sum);
                }
            } catch (NumberFormatException e) {
                return Optional.empty();
            }
        }
        if (pairs < LEAST_LINKED) {
            return Optional.empty();
        }
        int enough = (int) Math.ceil(pairs * ENOUGH);
        return factors.entrySet().stream()
                .filter(f -> f.getValue() >= enough && f.getKey().compareTo(BigDecimal.ONE) != 0)
                .map(f -> f.getKey().toPlainString())
                .findFirst();
    }

    private static Optional<Map<String, String>> map(List<String> ones, List<String> others) {
        Map<String, String> map = new HashMap<>();
        Map<String, Integer> seen = new HashMap<>();
        for (int i = 0; i < ones.size(); i++) {
            boolean oneNull = ones.get(i).equals(Sample.NULL) || others.get(i).equals(Sample.NULL);
            String before = map.put(ones.get(i), others.get(i));
            if (oneNull || before != null && !before.equals(others.get(i))) {
                return Optional.empty();
            }
            seen.merge(ones.get(i), 1, Integer::sum);
        }
        boolean oneToOne = new HashSet<>(map.values()).size() == map.size();
        boolean often = seen.size() >= 2 && seen.size() <= MAX_TRANSLATED && ones.size() >= 4 * seen.size();
        map.entrySet().removeIf(e -> e.getKey().equals(e.getValue()));
        return oneToOne && often ? Optional.of(map) : Optional.empty();
    }
}
