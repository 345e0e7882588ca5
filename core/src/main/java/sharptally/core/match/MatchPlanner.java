package sharptally.core.match;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Stream;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.match.request.ColumnChoice;
import sharptally.core.match.request.MatchRequest;
import sharptally.core.match.request.PairRequest;
import sharptally.core.match.text.Nearest;
import sharptally.core.place.Side;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;

/** Decides how the columns of two tables belong together, by what key, and by what rules. */
public final class MatchPlanner {
    private final TableShape source;
    private final TableShape target;
    private final MatchRequest wish;
    private final String name;
    private final ColumnIndex ofTarget;
    private final List<ColumnPair> pairs = new ArrayList<>();
    private final List<ColumnShape> sourceOnly = new ArrayList<>();
    private final List<ShapeDifference> differences = new ArrayList<>();
    private final List<MatchNote> notes = new ArrayList<>();
    private final List<String> problems = new ArrayList<>();
    private final Set<String> usedTarget = new HashSet<>();
    private final Set<String> notComparable = new HashSet<>();

    private MatchPlanner(TableShape source, TableShape target, MatchRequest wish) {
        this.source = source;
        this.target = target;
        this.wish = wish;
        this.ofTarget = new ColumnIndex(target);
        this.name = wish.name().orElseGet(() -> source.name().name());
    }

    /**
     * @throws ToolException when the wish names columns that are not there, rules that do not fit, or nothing is left
     *     to compare; all that is wrong is told at once
     */
    public static TableMatch plan(TableShape source, TableShape target, MatchRequest wish) {
        return new MatchPlanner(source, target, wish).plan();
    }

    private TableMatch plan() {
        checkNames();
        failOnProblems();
        source.columns().forEach(this::pair);
        List<ColumnShape> targetOnly = target.columns().stream()
                .filter(c -> !usedTarget.contains(c.name()))
                .toList();
        targetOnly.stream()
                .filter(c -> !isLeftOut(c))
                .filter(c -> !notComparable.contains(c.name()))
                .forEach(c -> differences.add(new ShapeDifference.OnOneSide(Side.TARGET, c.name())));
        ShapeDifferences.ofOrder(target, pairs, differences);
        if (pairs.isEmpty()) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "no column of the one table has a counterpart in the other",
                    source.name() + " and " + target.name(),
                    "pair columns in a job file");
        }
        KeyChoice choice = new KeyChoice(source, target, pairs);
        List<Integer> key = wish.key().isEmpty() ? choice.proposed() : choice.named(wish.key(), problems);
        if (key.isEmpty()) {
            notes.add(choice.noKey());
        }
        RuleChoice.checkKey(pairs, key, name, problems);
        problems.addAll(RuleChoice.idle(wish.rules(), pairs, name));
        failOnProblems();
        noteRules();
        Stream.of(source, target)
                .filter(t -> t.sideEffects().inherited())
                .map(t -> new MatchNote.Inherited(t.name()))
                .distinct()
                .forEach(notes::add);
        TableShape ofSource = source;
        TableShape ofTarget = target;
        for (ColumnPair pair : pairs) {
            // As they are read.
            ofSource = ofSource.with(pair.source());
            ofTarget = ofTarget.with(pair.target());
        }
        return new TableMatch(name, ofSource, ofTarget, pairs, key, sourceOnly, targetOnly, differences, notes);
    }

    private void failOnProblems() {
        if (!problems.isEmpty()) {
            throw ToolException.all(ErrorKind.USAGE, problems);
        }
    }

    /** Which rule is for which columns. */
    private void noteRules() {
        Map<String, List<String>> byRule = new TreeMap<>();
        pairs.forEach(p -> p.rules()
                .forEach(r ->
                        byRule.computeIfAbsent(r.word(), w -> new ArrayList<>()).add(p.name())));
        byRule.forEach((rule, columns) -> notes.add(new MatchNote.ByRule(rule, columns)));
    }

    private void pair(ColumnShape column) {
        Optional<PairRequest> own = wish.columns().stream()
                .filter(p -> source.column(p.source()).filter(column::equals).isPresent())
                .findFirst();
        Optional<ColumnShape> counterpart =
                isLeftOut(column) ? Optional.empty() : counterpart(column, own).filter(c -> !isLeftOut(c));
        if (counterpart.isEmpty()) {
            sourceOnly.add(column);
            if (isLeftOut(column)) {
                notes.add(new MatchNote.LeftOut(column.name()));
            } else {
                differences.add(new ShapeDifference.OnOneSide(Side.SOURCE, column.name()));
            }
            return;
        }
        ColumnShape other = counterpart.get();
        Optional<Kind> kind = column.type().flatMap(one -> other.type().flatMap(two -> CanonicalType.common(one, two)));
        if (kind.isEmpty()) {
            differences.add(
                    new ShapeDifference.Incomparable(column.name(), column.declaredType(), other.declaredType()));
            notComparable.add(other.name());
            sourceOnly.add(column);
            return;
        }
        usedTarget.add(other.name());
        ColumnPair pair =
                new RuleChoice(wish, name).withRules(new ColumnPair(column, other, kind.get()), own, problems);
        pairs.add(pair.readAlike());
        ShapeDifferences.ofTypes(pair, differences);
        boolean declared = Stream.of(source, target).noneMatch(t -> t.query().isPresent() || t.view())
                && column.expression().isEmpty()
                && other.expression().isEmpty();
        if (declared) {
            ShapeDifferences.ofLimits(column, other, differences);
        }
    }

    private Optional<ColumnShape> counterpart(ColumnShape column, Optional<PairRequest> own) {
        if (own.isPresent()) {
            return target.column(own.get().target());
        }
        // A column that the user paired with another one is taken.
        return ofTarget.find(column.name())
                .filter(c -> wish.columns().stream()
                        .noneMatch(
                                p -> target.column(p.target()).filter(c::equals).isPresent()));
    }

    private boolean isLeftOut(ColumnShape column) {
        return wish.leftOut().includes(column);
    }

    private void checkNames() {
        Stream.concat(wish.key().stream(), wish.columns().stream().map(PairRequest::source))
                .filter(column -> source.column(column).isEmpty())
                .forEach(column -> problems.add(unknown(column, source)));
        wish.columns().stream()
                .map(PairRequest::target)
                .filter(column -> target.column(column).isEmpty())
                .forEach(column -> problems.add(unknown(column, target)));
        wish.leftOut().here().stream()
                .filter(ColumnChoice::isAboutOne)
                .map(ColumnChoice::text)
                .filter(column ->
                        source.column(column).isEmpty() && target.column(column).isEmpty())
                .forEach(column -> problems.add(unknown(column, source)));
        twice(wish.columns().stream().map(PairRequest::source), source);
        twice(wish.columns().stream().map(PairRequest::target), target);
        wish.key().stream()
                .filter(column -> source.column(column).filter(this::isLeftOut).isPresent())
                .forEach(column -> problems.add("key column is left out: " + source.name() + "." + column
                        + "; compare it, or choose another key"));
    }

    private void twice(Stream<String> columns, TableShape table) {
        Set<String> seen = new HashSet<>();
        columns.filter(c -> !seen.add(c.toLowerCase(java.util.Locale.ROOT)))
                .forEach(c -> problems.add("column is paired twice: " + table.name() + "." + c));
    }

    private static String unknown(String column, TableShape table) {
        return "no such column: " + table.name() + "." + column + " ("
                + Nearest.hint(
                        column, table.columns().stream().map(ColumnShape::name).toList(), "there are ")
                + ")";
    }
}
