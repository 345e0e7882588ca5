package sharptally.core.match;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Predicate;
import java.util.stream.Stream;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.Hint;
import sharptally.core.fault.ToolException;
import sharptally.core.match.request.ColumnChoice;
import sharptally.core.match.request.MatchRequest;
import sharptally.core.match.text.Glob;
import sharptally.core.place.Extract;
import sharptally.core.place.Place;
import sharptally.core.place.Side;
import sharptally.core.rows.Daemons;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;

/**
 * All matches between two places, decided.
 *
 * @param lone tables of the selection that one side has and the other has not
 * @param leftOut names of tables of the selection that are left out on request
 */
public record JobPlan(List<TableMatch> matches, List<LoneTable> lone, List<String> leftOut) {
    public JobPlan {
        matches = List.copyOf(matches);
        lone = List.copyOf(lone);
        leftOut = List.copyOf(leftOut);
    }

    /** Of no match at all. */
    public static JobPlan empty() {
        return new JobPlan(List.of(), List.of(), List.of());
    }

    /** The same with matches of all partitions, where they are of single ones. */
    public JobPlan whole() {
        Map<String, TableMatch> wholes = new java.util.LinkedHashMap<>();
        matches.stream().map(TableMatch::whole).forEach(match -> wholes.putIfAbsent(match.name(), match));
        return with(List.copyOf(wholes.values()));
    }

    /** The same with other matches. */
    public JobPlan with(List<TableMatch> others) {
        return new JobPlan(others, lone, leftOut);
    }

    /**
     * The matches as the user describes them.
     *
     * @param leftOut tables of either side that no pattern is to find, and that are no difference where they stand alone
     * @param only which matches are wanted, by their names
     * @throws ToolException telling all that is wrong at once
     */
    public static JobPlan of(
            Place source, Place target, List<MatchRequest> wishes, List<Glob> leftOut, Predicate<String> only) {
        List<String> problems = new ArrayList<>();
        PatternExpansion spread = PatternExpansion.of(source, target, wishes, leftOut, problems);
        List<TableMatch> matches = new ArrayList<>();
        List<LoneTable> lone = new ArrayList<>();
        spread.sourceOnly().forEach(t -> lone.add(lone(Side.SOURCE, t, target)));
        spread.targetOnly().forEach(t -> lone.add(lone(Side.TARGET, t, source)));
        lone.removeIf(t -> !only.test(t.name().toString()));
        ErrorKind worst = ErrorKind.USAGE;
        for (MatchRequest wish : spread.wishes()) {
            if (!only.test(wish.name().orElse(wish.source().name()))) {
                continue;
            }
            boolean inSource = has(source, wish.source());
            boolean inTarget = has(target, wish.target());
            if (inSource != inTarget) {
                TableName name = named(inSource ? source : target, inSource ? wish.source() : wish.target());
                lone.add(lone(inSource ? Side.SOURCE : Side.TARGET, name, inSource ? target : source));
                continue;
            }
            try {
                Daemons.Both<TableShape> shapes = Daemons.both(
                        "describe-target", () -> source.describe(wish.source()), () -> target.describe(wish.target()));
                TableMatch match = MatchPlanner.plan(shapes.here(), shapes.there(), named(wish, shapes.here(), source));
                matches.add(visible(match, source, target));
            } catch (ToolException e) {
                if (e.kind() != ErrorKind.USAGE && e.kind() != ErrorKind.READ) {
                    throw e;
                }
                worst = e.kind() == ErrorKind.READ && inSource ? ErrorKind.READ : worst;
                e.getMessage()
                        .lines()
                        .filter(line -> !line.matches("\\d+ problems"))
                        .forEach(line -> problems.add(
                                wish.name().map(n -> "match " + n + ": ").orElse("") + line.strip()));
            }
        }
        problems.addAll(sameTwice(matches));
        if (!problems.isEmpty()) {
            throw ToolException.all(worst, problems);
        }
        if (matches.isEmpty() && lone.isEmpty()) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "there is nothing to compare",
                    source.address() + " and " + target.address(),
                    Hint.CHECK_TABLES);
        }
        return new JobPlan(matches, lone, leftOut(source, target, leftOut));
    }

    private static boolean has(Place place, Extract extract) {
        return extract.query().isPresent() || !called(place, extract.name()).isEmpty();
    }

    private static List<TableName> called(Place place, String name) {
        return TableName.called(place.tables(), name, place.ownSchema());
    }

    private static TableName named(Place place, Extract extract) {
        List<TableName> called = called(place, extract.name());
        return called.isEmpty() ? TableName.of(extract.name()) : called.get(0);
    }

    /** A match goes by the name of its source table, with its schema where that is not the place's own. */
    private static MatchRequest named(MatchRequest wish, TableShape table, Place source) {
        boolean own = table.query().isPresent()
                || table.name()
                        .schema()
                        .filter(s -> !s.equals(source.ownSchema()))
                        .isEmpty();
        return wish.name().isPresent() || own ? wish : wish.called(table.name().toString());
    }

    private static LoneTable lone(Side side, TableName table, Place other) {
        return new LoneTable(side, table, other.hides(Optional.empty()));
    }

    /** A column that the other side may only not show us is none that is surely missing. */
    private static TableMatch visible(TableMatch match, Place source, Place target) {
        Map<ShapeDifference.OnOneSide, ShapeDifference.Unseen> hidden = new HashMap<>();
        for (ShapeDifference.OnOneSide column : match.lone()) {
            Place other = column.side() == Side.SOURCE ? target : source;
            TableShape table = column.side() == Side.SOURCE ? match.target() : match.source();
            if (table.query().isEmpty()) {
                other.hides(Optional.of(table.name()))
                        .ifPresent(why -> hidden.put(column, new ShapeDifference.Unseen(column.column(), why)));
            }
        }
        return hidden.isEmpty() ? match : match.hiding(hidden);
    }

    private static List<String> leftOut(Place source, Place target, List<Glob> leftOut) {
        Map<String, String> names = new TreeMap<>();
        Stream.concat(found(source, leftOut), found(target, leftOut))
                .forEach(name -> names.putIfAbsent(name.toLowerCase(Locale.ROOT), name));
        return List.copyOf(names.values());
    }

    private static Stream<String> found(Place place, List<Glob> globs) {
        return globs.isEmpty()
                ? Stream.empty()
                : place.tables().stream()
                        .filter(t -> globs.stream()
                                .anyMatch(g -> g.captures(t, place.ownSchema()).isPresent()))
                        .map(TableName::toString);
    }

    private static List<String> sameTwice(List<TableMatch> matches) {
        List<String> problems = new ArrayList<>();
        Map<String, TableMatch> byTables = new HashMap<>();
        Set<String> names = new HashSet<>();
        for (TableMatch match : matches) {
            boolean named = !match.name().equals(match.source().name().name());
            String tables = match.source().name() + "\0" + match.target().name();
            TableMatch other = byTables.put(tables, match);
            if (other != null && !named) {
                problems.add("the same two tables are matched twice: "
                        + match.source().name() + " and " + match.target().name()
                        + "; leave one out, or give each a name");
            } else if (!names.add(match.name())) {
                problems.add("two matches go by one name: " + match.name() + "; give one of them a name");
            }
        }
        return problems;
    }

    /**
     * What is asked of tables that are paired by their names.
     *
     * @param source the table of the source, where its address names one
     * @param key the key's columns; only where there is one match
     * @param leaveOut columns to leave out wherever they are found
     * @param leftOut tables to leave out
     */
    public record ByName(
            Optional<String> source,
            Optional<String> target,
            List<String> key,
            List<String> leaveOut,
            List<Glob> leftOut) {}

    /**
     * Tables of equal name, or the one table on each side that the addresses name.
     *
     * @throws ToolException when nothing matches, or a column to leave out is nowhere
     */
    public static JobPlan byName(Place source, Place target, ByName asked, Predicate<String> only) {
        List<String> key = asked.key();
        List<Glob> leftOut = asked.leftOut();
        List<ColumnChoice> choices =
                asked.leaveOut().stream().map(ColumnChoice::new).toList();
        if (asked.source().isPresent() || asked.target().isPresent()) {
            String one = asked.source().or(asked::target).orElseThrow();
            String other = asked.target().orElse(one);
            return of(source, target, List.of(MatchRequest.ofTables(one, other, key, choices)), List.of(), only);
        }
        List<TableName> ofSource = selected(source, leftOut, only);
        List<TableName> ofTarget = selected(target, leftOut, only);
        var paired = TablePairs.byName(ofSource, source.ownSchema(), ofTarget, target.ownSchema());
        if (paired.pairs().isEmpty() && ofSource.isEmpty() == ofTarget.isEmpty()) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    ofSource.isEmpty()
                            ? "there is nothing to compare"
                            : "no table of the source has a counterpart of equal name in the target",
                    source.address() + " and " + target.address(),
                    ofSource.isEmpty() ? Hint.CHECK_TABLES : Hint.SCHEMA_OR_TABLE);
        }
        if (!key.isEmpty() && paired.pairs().size() > 1) {
            throw new ToolException(
                    ErrorKind.USAGE, "a key goes with one table", String.join(", ", key), Hint.ONE_TABLE);
        }
        List<MatchRequest> wishes = new ArrayList<>();
        List<ColumnChoice> notFound = new ArrayList<>(choices);
        for (List<TableName> pair : paired.pairs()) {
            TableShape one = source.describe(pair.get(0).toString());
            TableShape other = target.describe(pair.get(1).toString());
            List<ColumnChoice> here =
                    choices.stream().filter(c -> has(one, c) || has(other, c)).toList();
            notFound.removeAll(here);
            wishes.add(MatchRequest.ofTables(one.name().toString(), other.name().toString(), key, here));
        }
        if (!notFound.isEmpty()) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "no table has this column",
                    String.join(", ", notFound.stream().map(ColumnChoice::text).toList()),
                    Hint.CHECK_LEFT_OUT);
        }
        List<LoneTable> lone = new ArrayList<>();
        paired.sourceOnly().forEach(t -> lone.add(lone(Side.SOURCE, t, target)));
        paired.targetOnly().forEach(t -> lone.add(lone(Side.TARGET, t, source)));
        List<TableMatch> matches = wishes.isEmpty()
                ? List.of()
                : of(source, target, wishes, List.of(), name -> true).matches();
        return new JobPlan(matches, lone, leftOut(source, target, leftOut));
    }

    private static List<TableName> selected(Place place, List<Glob> leftOut, Predicate<String> only) {
        List<TableName> all = place.tables();
        return all.stream()
                .filter(t -> !OwnTables.isOwn(t, all))
                .filter(t -> leftOut.stream()
                        .noneMatch(g -> g.captures(t, place.ownSchema()).isPresent()))
                .filter(t -> only.test(t.toString()))
                .toList();
    }

    private static boolean has(TableShape table, ColumnChoice choice) {
        return table.columns().stream().anyMatch(choice::includes);
    }
}
