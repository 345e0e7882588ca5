package sharptally.core.match;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import sharptally.core.shape.TableName;

/** Tables that belong together by their names, and those that have no counterpart. */
public record TablePairs(List<List<TableName>> pairs, List<TableName> sourceOnly, List<TableName> targetOnly) {
    public TablePairs {
        pairs = List.copyOf(pairs);
        sourceOnly = List.copyOf(sourceOnly);
        targetOnly = List.copyOf(targetOnly);
    }

    /** Pairs tables whose names are equal, letter case aside where that leaves no doubt; in the source's order. */
    public static TablePairs byName(List<TableName> source, List<TableName> target) {
        Map<String, List<TableName>> byName = target.stream().collect(Collectors.groupingBy(t -> folded(t.name())));
        List<List<TableName>> pairs = new ArrayList<>();
        List<TableName> sourceOnly = new ArrayList<>();
        Set<TableName> used = new HashSet<>();
        for (TableName table : source) {
            List<TableName> alike = byName.getOrDefault(folded(table.name()), List.of());
            Optional<TableName> counterpart = alike.stream()
                    .filter(t -> t.name().equals(table.name()))
                    .findFirst()
                    .or(() -> alike.size() == 1 ? Optional.of(alike.get(0)) : Optional.empty())
                    .filter(used::add);
            counterpart.ifPresentOrElse(t -> pairs.add(List.of(table, t)), () -> sourceOnly.add(table));
        }
        return new TablePairs(
                pairs,
                sourceOnly,
                target.stream().filter(t -> !used.contains(t)).toList());
    }

    private static String folded(String name) {
        return name.toLowerCase(Locale.ROOT);
    }
}
