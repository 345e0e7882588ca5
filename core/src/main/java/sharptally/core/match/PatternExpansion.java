package sharptally.core.match;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import sharptally.core.match.request.MatchRequest;
import sharptally.core.match.text.Glob;
import sharptally.core.place.Place;
import sharptally.core.shape.TableName;

/**
 * Wishes with each pattern replaced by the tables that it finds. A table that a wish names by itself is not found by a
 * pattern too, so that an exception can stand beside a rule.
 *
 * @param sourceOnly tables that a pattern found and that have no counterpart by it
 * @param targetOnly tables of the target that could have been the counterpart of one and are of none
 */
record PatternExpansion(List<MatchRequest> wishes, List<TableName> sourceOnly, List<TableName> targetOnly) {
    static PatternExpansion of(
            Place source, Place target, List<MatchRequest> wishes, List<Glob> leftOut, List<String> problems) {
        if (wishes.stream().noneMatch(MatchRequest::pattern)) {
            return new PatternExpansion(wishes, List.of(), List.of());
        }
        SchemaPairs schemas = SchemaPairs.of(source, target);
        Set<TableName> named = new HashSet<>();
        Set<TableName> usedTargets = new HashSet<>();
        for (MatchRequest wish : wishes) {
            if (!wish.pattern()) {
                called(source.tables(), wish.source().name(), source).ifPresent(named::add);
                called(target.tables(), wish.target().name(), target).ifPresent(usedTargets::add);
            }
        }
        List<MatchRequest> spread = new ArrayList<>();
        Set<TableName> sourceOnly = new LinkedHashSet<>();
        Set<TableName> targetOnly = new LinkedHashSet<>();
        Map<TableName, String> foundBy = new HashMap<>();
        for (MatchRequest wish : wishes) {
            if (!wish.pattern()) {
                spread.add(wish);
                continue;
            }
            Glob from = new Glob(wish.source().name());
            Glob to = new Glob(wish.target().name());
            int before = spread.size();
            int aloneBefore = sourceOnly.size() + targetOnly.size();
            for (TableName table : source.tables()) {
                Optional<List<String>> captures = from.captures(table, source.ownSchema());
                if (captures.isEmpty() || named.contains(table) || isLeftOut(source, table, leftOut)) {
                    continue;
                }
                String wanted = to.filled(captures.get());
                // A bare name means a table of the schema that belongs to the source table's.
                Predicate<TableName> eligible = t -> wanted.indexOf('.') >= 0 || schemas.pair(table, t);
                Optional<TableName> other =
                        called(target.tables().stream().filter(eligible).toList(), wanted, target);
                if (other.isEmpty()) {
                    sourceOnly.add(table);
                    continue;
                }
                String earlier = foundBy.put(table, from.text());
                if (earlier != null) {
                    problems.add("the same table is matched twice: " + table + ", by " + earlier + " and by "
                            + from.text() + "; name it in a match of its own");
                }
                usedTargets.add(other.get());
                spread.add(wish.of(table.toString(), other.get().toString()));
            }
            int alone = sourceOnly.size() + targetOnly.size();
            target.tables().stream()
                    .filter(t -> to.captures(t, target.ownSchema()).isPresent() && !isLeftOut(target, t, leftOut))
                    .forEach(targetOnly::add);
            // Tables of one side alone are told as such; a pattern that finds none at all is a mistake.
            if (spread.size() == before && alone == aloneBefore && targetOnly.size() + sourceOnly.size() == alone) {
                problems.add("a pattern finds no pair of tables: " + from.text() + " > " + to.text());
            }
        }
        sourceOnly.removeIf(foundBy::containsKey);
        targetOnly.removeIf(usedTargets::contains);
        return new PatternExpansion(spread, List.copyOf(sourceOnly), List.copyOf(targetOnly));
    }

    /** The table of exactly this name, else the only one that differs by letter case alone. */
    private static Optional<TableName> called(List<TableName> tables, String name, Place place) {
        List<TableName> alike = TableName.called(tables, name, place.ownSchema());
        return alike.stream()
                .filter(t -> t.name().equals(name))
                .findFirst()
                .or(() -> alike.size() == 1 ? Optional.of(alike.get(0)) : Optional.empty());
    }

    private static boolean isLeftOut(Place place, TableName table, List<Glob> globs) {
        return OwnTables.isOwn(table, place.tables())
                || globs.stream()
                        .anyMatch(g -> g.captures(table, place.ownSchema()).isPresent());
    }
}
