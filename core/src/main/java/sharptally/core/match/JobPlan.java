package sharptally.core.match;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Place;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;

/**
 * All matches between two places, decided.
 *
 * @param sourceOnly tables of the source that have no counterpart, where matches were proposed by name or by a pattern
 * @param targetOnly the same of the target
 */
public record JobPlan(List<TableMatch> matches, List<TableName> sourceOnly, List<TableName> targetOnly) {
    public JobPlan {
        matches = List.copyOf(matches);
        sourceOnly = List.copyOf(sourceOnly);
        targetOnly = List.copyOf(targetOnly);
    }

    /**
     * The matches as the user describes them.
     *
     * @param leftOut tables of either side that no pattern is to find
     * @param only which matches are wanted, by their names
     * @throws ToolException telling all that is wrong at once
     */
    public static JobPlan of(
            Place source, Place target, List<MatchWish> wishes, List<Glob> leftOut, Predicate<String> only) {
        List<String> problems = new ArrayList<>();
        WishSpread spread = WishSpread.of(source, target, wishes, leftOut, problems);
        List<TableMatch> matches = new ArrayList<>();
        ErrorKind worst = ErrorKind.USAGE;
        for (MatchWish wish : spread.wishes()) {
            if (!only.test(wish.name().orElse(wish.source().name()))) {
                continue;
            }
            try {
                TableShape one = source.describe(wish.source());
                matches.add(MatchPlanner.plan(one, target.describe(wish.target()), wish));
            } catch (ToolException e) {
                if (e.kind() != ErrorKind.USAGE && e.kind() != ErrorKind.READ) {
                    throw e;
                }
                worst = e.kind() == ErrorKind.READ ? ErrorKind.READ : worst;
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
        if (matches.isEmpty()) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "there is nothing to compare",
                    source.address() + " and " + target.address(),
                    "check --only and the sheet");
        }
        return new JobPlan(matches, spread.sourceOnly(), spread.targetOnly());
    }

    private static List<String> sameTwice(List<TableMatch> matches) {
        List<String> problems = new ArrayList<>();
        Map<String, TableMatch> byTables = new HashMap<>();
        Set<String> names = new HashSet<>();
        for (TableMatch match : matches) {
            boolean named = !match.name().equals(match.source().name().name());
            String tables = (match.source().name() + "\0" + match.target().name()).toLowerCase(Locale.ROOT);
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
     * Tables of equal name, or the one table on each side that the addresses name.
     *
     * @param key the key's columns; only where there is one match
     * @param leaveOut columns to leave out wherever they are found
     * @throws ToolException when nothing matches, or a column to leave out is nowhere
     */
    public static JobPlan byName(
            Place source,
            Optional<String> sourceTable,
            Place target,
            Optional<String> targetTable,
            List<String> key,
            List<String> leaveOut,
            Predicate<String> only) {
        List<ColumnChoice> choices = leaveOut.stream().map(ColumnChoice::new).toList();
        if (sourceTable.isPresent() || targetTable.isPresent()) {
            String one = sourceTable.or(() -> targetTable).orElseThrow();
            String other = targetTable.orElse(one);
            return of(source, target, List.of(MatchWish.ofTables(one, other, key, choices)), List.of(), only);
        }
        var paired = TablePairs.byName(source.tables(), target.tables());
        if (paired.pairs().isEmpty()) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "no table of the source has a counterpart of equal name in the target",
                    source.address() + " and " + target.address(),
                    "name one on each side with #table, or write a sheet");
        }
        if (!key.isEmpty() && paired.pairs().size() > 1) {
            throw new ToolException(
                    ErrorKind.USAGE, "--key goes with one table", String.join(", ", key), "name the table with #table");
        }
        List<MatchWish> wishes = new ArrayList<>();
        List<ColumnChoice> notFound = new ArrayList<>(choices);
        for (List<TableName> pair : paired.pairs()) {
            TableShape one = source.describe(pair.get(0).toString());
            TableShape other = target.describe(pair.get(1).toString());
            List<ColumnChoice> here =
                    choices.stream().filter(c -> has(one, c) || has(other, c)).toList();
            notFound.removeAll(here);
            wishes.add(MatchWish.ofTables(one.name().toString(), other.name().toString(), key, here));
        }
        if (!notFound.isEmpty()) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "no table has this column",
                    String.join(", ", notFound.stream().map(ColumnChoice::text).toList()),
                    "check --leave-out");
        }
        JobPlan plan = of(source, target, wishes, List.of(), only);
        return new JobPlan(plan.matches(), paired.sourceOnly(), paired.targetOnly());
    }

    private static boolean has(TableShape table, ColumnChoice choice) {
        return table.columns().stream().anyMatch(choice::includes);
    }
}
