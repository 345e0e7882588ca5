package sharptally.core.match;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import sharptally.core.place.Place;
import sharptally.core.shape.TableName;

/**
 * Wishes with each pattern replaced by the tables that it finds. A table that a wish names by itself is not found by a
 * pattern too, so that an exception can stand beside a rule.
 *
 * @param sourceOnly tables that a pattern found and that have no counterpart by it
 * @param targetOnly tables of the target that could have been the counterpart of one and are of none
 */
record WishSpread(List<MatchWish> wishes, List<TableName> sourceOnly, List<TableName> targetOnly) {
    static WishSpread of(
            Place source, Place target, List<MatchWish> wishes, List<Glob> leftOut, List<String> problems) {
        if (wishes.stream().noneMatch(MatchWish::pattern)) {
            return new WishSpread(wishes, List.of(), List.of());
        }
        Set<String> named = new HashSet<>();
        Set<String> usedTargets = new HashSet<>();
        for (MatchWish wish : wishes) {
            if (!wish.pattern()) {
                named.add(folded(wish.source().name()));
                usedTargets.add(folded(wish.target().name()));
            }
        }
        List<MatchWish> spread = new ArrayList<>();
        Set<TableName> sourceOnly = new LinkedHashSet<>();
        Set<TableName> targetOnly = new LinkedHashSet<>();
        Map<TableName, String> foundBy = new TreeMap<>(java.util.Comparator.comparing(TableName::toString));
        for (MatchWish wish : wishes) {
            if (!wish.pattern()) {
                spread.add(wish);
                continue;
            }
            Glob from = new Glob(wish.source().name());
            Glob to = new Glob(wish.target().name());
            int before = spread.size();
            for (TableName table : source.tables()) {
                Optional<List<String>> captures = from.captures(table, source.ownSchema());
                if (captures.isEmpty() || isNamed(table, named) || isOf(table, leftOut, source.ownSchema())) {
                    continue;
                }
                String wanted = to.filled(captures.get());
                Optional<TableName> other = target.tables().stream()
                        .filter(t -> t.isCalled(wanted, target.ownSchema()))
                        .findFirst();
                if (other.isEmpty()) {
                    sourceOnly.add(table);
                    continue;
                }
                String earlier = foundBy.put(table, from.text());
                if (earlier != null) {
                    problems.add("the same table is matched twice: " + table + ", by " + earlier + " and by "
                            + from.text() + "; name it in a match of its own");
                }
                usedTargets.add(folded(other.get().toString()));
                spread.add(wish.of(table.toString(), other.get().toString()));
            }
            if (spread.size() == before) {
                problems.add("a pattern finds no pair of tables: " + from.text() + " > " + to.text());
            }
            target.tables().stream()
                    .filter(t ->
                            to.captures(t, target.ownSchema()).isPresent() && !isOf(t, leftOut, target.ownSchema()))
                    .forEach(targetOnly::add);
        }
        sourceOnly.removeIf(foundBy::containsKey);
        targetOnly.removeIf(t -> isNamed(t, usedTargets));
        return new WishSpread(spread, List.copyOf(sourceOnly), List.copyOf(targetOnly));
    }

    private static boolean isOf(TableName table, List<Glob> globs, String ownSchema) {
        return globs.stream().anyMatch(g -> g.captures(table, ownSchema).isPresent());
    }

    private static boolean isNamed(TableName table, Set<String> names) {
        return names.contains(folded(table.toString())) || names.contains(folded(table.name()));
    }

    private static String folded(String name) {
        return name.toLowerCase(Locale.ROOT);
    }
}
