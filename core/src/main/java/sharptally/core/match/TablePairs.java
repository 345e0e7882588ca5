package sharptally.core.match;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import sharptally.core.shape.TableName;

/** Tables that belong together by their schemas and names, and those that have no counterpart. */
public record TablePairs(List<List<TableName>> pairs, List<TableName> sourceOnly, List<TableName> targetOnly) {
    public TablePairs {
        pairs = List.copyOf(pairs);
        sourceOnly = List.copyOf(sourceOnly);
        targetOnly = List.copyOf(targetOnly);
    }

    /**
     * Pairs tables of schemas that belong together ({@code SchemaPairs}) whose names are equal, letter case aside where
     * that leaves no doubt; in the source's order.
     *
     * @param ownOfSource the schema of the source's tables that go by their bare names
     */
    public static TablePairs byName(
            List<TableName> source, String ownOfSource, List<TableName> target, String ownOfTarget) {
        SchemaPairs schemas = new SchemaPairs(source, ownOfSource, target, ownOfTarget);
        Map<TableName, TableName> found = new HashMap<>();
        Set<TableName> done = new HashSet<>();
        for (TableName table : source) {
            if (done.contains(table)) {
                continue;
            }
            List<TableName> beside = source.stream()
                    .filter(t -> t.schema().equals(table.schema()))
                    .toList();
            done.addAll(beside);
            List<TableName> others =
                    target.stream().filter(t -> schemas.pair(table, t)).toList();
            found.putAll(SchemaPairs.paired(beside, others, TableName::name));
        }
        List<List<TableName>> pairs = new ArrayList<>();
        source.stream().filter(found::containsKey).forEach(t -> pairs.add(List.of(t, found.get(t))));
        return new TablePairs(
                pairs,
                source.stream().filter(t -> !found.containsKey(t)).toList(),
                target.stream().filter(t -> !found.containsValue(t)).toList());
    }
}
