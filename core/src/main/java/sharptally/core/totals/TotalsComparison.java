package sharptally.core.totals;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.match.ColumnPair;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Place;
import sharptally.core.place.Side;
import sharptally.core.place.part.Measure;
import sharptally.core.place.part.TotalsRequest;
import sharptally.core.rows.Cast;
import sharptally.core.rows.CellOrder;
import sharptally.core.rows.Column;
import sharptally.core.rule.Rule;
import sharptally.core.rule.RuleSet;
import sharptally.core.types.Kind;
import sharptally.core.types.Numbers;
import sharptally.core.types.Value;

/**
 * Totals of one match: both databases work them out at the same time, and the figures are compared with each other
 * here. Sums of whole numbers and decimals are exact; floating sums may lie apart by a small share, for they depend on
 * the order in which a database adds. Memory: one row of figures per group and side.
 */
public final class TotalsComparison {
    private static final int MAX_GROUPS = 1_000_000;
    private static final BigDecimal USUAL_SHARE = new BigDecimal("1e-9");
    private static final BigDecimal SHARE_OF_SHORT = new BigDecimal("1e-6");

    private final TableMatch match;
    private final TotalsSettings wish;
    private final List<ColumnPair> groups = new ArrayList<>();
    private final List<Figure> figures = new ArrayList<>();
    private final Map<String, List<String>> leftOut = new LinkedHashMap<>();

    /**
     * A figure that is compared with the other side's.
     *
     * @param pair empty for the number of rows
     * @param share how far apart it may lie, as a share of the greater, and of a sum of all that was added, signs aside; zero
     *     for exact ones
     * @param apart how far apart it may lie, for each row
     */
    private record Figure(
            Measure measure, Optional<ColumnPair> pair, boolean exact, BigDecimal share, BigDecimal apart) {
        /** Whether it is a sum of floating values, whose error grows with what is added and not with what comes out. */
        boolean isFloatingSum() {
            return !exact && (measure == Measure.SUM || measure == Measure.MEAN);
        }

        TotalsRequest.Term magnitude(Side side) {
            TotalsRequest.Term sum = term(side, Measure.SUM);
            return new TotalsRequest.Term(sum.measure(), sum.column(), false, true);
        }

        TotalsRequest.Term term(Side side, Measure worked) {
            return new TotalsRequest.Term(worked, pair.map(p -> side == Side.SOURCE ? p.source() : p.target()), exact);
        }
    }

    /**
     * @throws ToolException when rows are to be grouped by a column that is not compared
     */
    public TotalsComparison(TableMatch match, TotalsSettings wish) {
        this.match = match;
        this.wish = wish;
        for (TotalsSettings.By by : wish.by()) {
            groups.add(match.pairs().stream()
                    .filter(p -> p.name().equalsIgnoreCase(by.column()))
                    .findFirst()
                    .orElseThrow(() -> new ToolException(
                            ErrorKind.USAGE,
                            "rows can't be grouped by a column that is not compared",
                            match.name() + "." + by.column(),
                            "name a column of the source that the target has too")));
        }
        chooseFigures();
    }

    private void chooseFigures() {
        if (wish.of().contains(Measure.ROWS)) {
            figures.add(new Figure(Measure.ROWS, Optional.empty(), true, BigDecimal.ZERO, BigDecimal.ZERO));
        }
        for (ColumnPair pair : match.pairs()) {
            boolean wanted = wish.columns().isEmpty()
                    || wish.columns().stream().anyMatch(c -> c.includes(pair.source()) || c.includes(pair.target()));
            if (wanted && !groups.contains(pair)) {
                for (Measure measure : Measure.values()) {
                    if (measure != Measure.ROWS && wish.of().contains(measure)) {
                        chooseFigure(measure, pair);
                    }
                }
            }
        }
    }

    private void chooseFigure(Measure measure, ColumnPair pair) {
        if (!measure.fits(pair.comparedAs())) {
            return;
        }
        Kind one = pair.source().type().orElseThrow().kind();
        Kind two = pair.target().type().orElseThrow().kind();
        Optional<Rule> rule =
                pair.rules().stream().filter(r -> !agreesWith(r, measure)).findFirst();
        if (rule.isPresent()) {
            leaveOut(measure, pair, "it is compared by rule " + rule.get().word());
            return;
        }
        boolean own = measure == Measure.FILLED || suits(measure, one, pair) && suits(measure, two, pair);
        if (!own) {
            leaveOut(
                    measure,
                    pair,
                    pair.source().declaredType() + " and " + pair.target().declaredType() + " have none in common");
            return;
        }
        boolean floating = isFloating(one) || isFloating(two);
        boolean summed = measure == Measure.SUM || measure == Measure.MEAN;
        BigDecimal share = !summed || !floating
                ? BigDecimal.ZERO
                : wish.within().orElse(one == Kind.FLOAT || two == Kind.FLOAT ? SHARE_OF_SHORT : USUAL_SHARE);
        Optional<Rule.Within> within = pair.rules().stream()
                .filter(Rule.Within.class::isInstance)
                .map(Rule.Within.class::cast)
                .findFirst();
        figures.add(new Figure(
                measure,
                Optional.of(pair),
                !floating,
                within.map(w -> share.max(w.relative())).orElse(share),
                within.filter(w -> measure != Measure.FILLED && measure != Measure.LENGTH)
                        .map(Rule.Within::absolute)
                        .orElse(BigDecimal.ZERO)));
    }

    /** Whether figures can be compared with each other though values are the same by this rule alone. */
    private static boolean agreesWith(Rule rule, Measure measure) {
        if (measure == Measure.FILLED) {
            return !(rule instanceof Rule.EmptyAsNull)
                    && !(rule instanceof Rule.SameAs same && !same.nulls().isEmpty());
        }
        return rule instanceof Rule.Within within && !within.times() && measure != Measure.DISTINCT;
    }

    private void leaveOut(Measure measure, ColumnPair pair, String why) {
        leftOut.computeIfAbsent(pair.name() + ": " + why, k -> new ArrayList<>())
                .add(measure.word());
    }

    /** Whether the column's own values, too, are such that a database works the figure out as it is meant. */
    private static boolean suits(Measure measure, Kind own, ColumnPair pair) {
        boolean otherOrder = own == Kind.TEXT && pair.comparedAs() != Kind.TEXT;
        return own == Kind.ANY || measure.fits(own) && !otherOrder;
    }

    private static boolean isFloating(Kind kind) {
        return kind == Kind.FLOAT || kind == Kind.DOUBLE;
    }

    /**
     * @throws ToolException when a side can't work them out
     */
    public TotalsResult run(Place source, Place target) {
        var ofSource = CompletableFuture.supplyAsync(() -> read(source, Side.SOURCE));
        Map<List<String>, Value[]> there;
        try {
            there = read(target, Side.TARGET);
        } catch (ToolException e) {
            ofSource.exceptionally(other -> Map.of()).join();
            throw e;
        }
        return compared(joined(ofSource), there);
    }

    private static <T> T joined(CompletableFuture<T> future) {
        try {
            return future.join();
        } catch (CompletionException e) {
            if (e.getCause() instanceof RuntimeException cause) {
                throw cause;
            }
            throw e;
        }
    }

    private Map<List<String>, Value[]> read(Place place, Side side) {
        List<TotalsRequest.Term> terms = new ArrayList<>();
        List<int[]> termsOfFigure = new ArrayList<>();
        int[] magnitudes = new int[figures.size()];
        for (Figure figure : figures) {
            if (figure.measure() == Measure.MEAN) {
                termsOfFigure.add(new int[] {terms.size(), terms.size() + 1});
                terms.add(figure.term(side, Measure.SUM));
                terms.add(figure.term(side, Measure.FILLED));
            } else {
                termsOfFigure.add(new int[] {terms.size()});
                terms.add(figure.term(side, figure.measure()));
            }
            magnitudes[termsOfFigure.size() - 1] = figure.isFloatingSum() ? terms.size() : -1;
            if (figure.isFloatingSum()) {
                terms.add(figure.magnitude(side));
            }
        }
        List<TotalsRequest.Group> by = new ArrayList<>();
        for (int i = 0; i < groups.size(); i++) {
            ColumnPair pair = groups.get(i);
            by.add(new TotalsRequest.Group(
                    side == Side.SOURCE ? pair.source() : pair.target(),
                    wish.by().get(i).unit()));
        }
        Map<List<String>, Value[]> raw = TotalsReading.read(
                place,
                side == Side.SOURCE ? match.source() : match.target(),
                by,
                terms,
                MAX_GROUPS,
                row -> key(row, side));
        Map<List<String>, Value[]> figuresByGroup = new TreeMap<>(TotalsReading.ORDER);
        raw.forEach((group, values) -> {
            // Behind the figures, what each of them was added up from.
            Value[] found = new Value[2 * figures.size()];
            for (int i = 0; i < figures.size(); i++) {
                int[] of = termsOfFigure.get(i);
                Value value = of.length == 1 ? values[of[0]] : Figures.mean(values[of[0]], values[of[1]]);
                found[i] = inCommonForm(figures.get(i), value, side);
                Value added = magnitudes[i] < 0 ? Value.NULL : values[magnitudes[i]];
                found[figures.size() + i] =
                        magnitudes[i] >= 0 && of.length > 1 ? Figures.mean(added, values[of[1]]) : added;
            }
            figuresByGroup.put(group, found);
        });
        return figuresByGroup;
    }

    /** Least and greatest values are brought to the form in which the columns are compared. */
    private static Value inCommonForm(Figure figure, Value value, Side side) {
        if (figure.measure() != Measure.MIN && figure.measure() != Measure.MAX) {
            return value;
        }
        ColumnPair pair = figure.pair().orElseThrow();
        return castOf(pair, side).apply(TotalsReading.cell(value)).value(0);
    }

    private static Cast castOf(ColumnPair pair, Side side) {
        return side == Side.SOURCE ? pair.sourceCast() : pair.targetCast();
    }

    private List<String> key(List<Value> row, Side side) {
        List<String> key = new ArrayList<>();
        for (int i = 0; i < groups.size(); i++) {
            Value value = row.get(i);
            if (wish.by().get(i).unit().isEmpty()) {
                ColumnPair pair = groups.get(i);
                RuleSet rules = pair.toRuleSet();
                Column cell = castOf(pair, side).apply(TotalsReading.cell(value));
                value = rules.loosened(rules.translated(cell, side)).value(0);
            }
            key.add(Figures.text(value));
        }
        return key;
    }

    private TotalsResult compared(Map<List<String>, Value[]> source, Map<List<String>, Value[]> target) {
        var all = new TreeSet<>(TotalsReading.ORDER);
        all.addAll(source.keySet());
        all.addAll(target.keySet());
        List<TotalsLine> lines = new ArrayList<>();
        long broken = 0;
        long held = 0;
        for (List<String> group : all) {
            Optional<Value[]> one = Optional.ofNullable(source.get(group));
            Optional<Value[]> other = Optional.ofNullable(target.get(group));
            BigDecimal rows = rowsOf(one).max(rowsOf(other));
            // Of a group that one side lacks, the first figure says all.
            int told = one.isPresent() && other.isPresent() ? figures.size() : Math.min(1, figures.size());
            for (int i = 0; i < told; i++) {
                int at = i;
                BigDecimal added = added(one, at).max(added(other, at));
                TotalsLine line = line(group, figures.get(i), one.map(v -> v[at]), other.map(v -> v[at]), rows, added);
                if (!line.held()) {
                    broken++;
                } else {
                    held++;
                }
                if (!line.held() || groups.isEmpty()) {
                    lines.add(line);
                }
            }
        }
        return new TotalsResult(
                match.name(),
                match.source().name().toString(),
                match.target().name().toString(),
                wish.by().stream().map(TotalsSettings.By::toString).toList(),
                all.size(),
                broken + held,
                broken,
                lines,
                leftOut.entrySet().stream()
                        .map(e -> String.join(", ", e.getValue()) + " of " + e.getKey())
                        .toList());
    }

    private BigDecimal added(Optional<Value[]> values, int figure) {
        return values.flatMap(v -> Numbers.of(v[figures.size() + figure])).orElse(BigDecimal.ZERO);
    }

    /** The number of rows where it was worked out; a tolerance for each row needs it. */
    private BigDecimal rowsOf(Optional<Value[]> values) {
        for (int i = 0; i < figures.size(); i++) {
            if (figures.get(i).measure() == Measure.ROWS && values.isPresent()) {
                return Numbers.of(values.get()[i]).orElse(BigDecimal.ONE);
            }
        }
        return BigDecimal.ONE;
    }

    private static TotalsLine line(
            List<String> group,
            Figure figure,
            Optional<Value> source,
            Optional<Value> target,
            BigDecimal rows,
            BigDecimal added) {
        Optional<BigDecimal> one = source.flatMap(Numbers::of);
        Optional<BigDecimal> other = target.flatMap(Numbers::of);
        Optional<BigDecimal> difference = one.flatMap(o -> other.map(t -> t.subtract(o)));
        boolean same = source.isPresent() && target.isPresent() && isSame(source.get(), target.get());
        if (!same && difference.isPresent()) {
            BigDecimal greater = one.orElseThrow().abs().max(other.orElseThrow().abs());
            BigDecimal allowed = figure.apart()
                    .multiply(figure.measure() == Measure.SUM ? rows : BigDecimal.ONE)
                    .max(figure.share().multiply(greater.max(added)));
            same = difference.get().abs().compareTo(allowed) <= 0;
        }
        return new TotalsLine(
                group,
                figure.pair().map(ColumnPair::name).orElse(""),
                figure.measure().word(),
                source.map(Figures::shown),
                target.map(Figures::shown),
                same ? Optional.empty() : difference.map(d -> Figures.plain(d).toPlainString()),
                same);
    }

    private static boolean isSame(Value one, Value other) {
        return CellOrder.same(TotalsReading.cell(one), 0, TotalsReading.cell(other), 0)
                || Numbers.of(one)
                        .flatMap(a -> Numbers.of(other).map(b -> a.compareTo(b) == 0))
                        .orElse(false);
    }
}
