package sharptally.core.match;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Function;
import sharptally.core.place.Place;
import sharptally.core.shape.TableName;

/**
 * Which schema of the target belongs to which of the source: those of equal name, letter case aside where that leaves no
 * doubt; and where each side has just one, these two.
 */
final class SchemaPairs {
    private final Map<String, String> targetOf = new LinkedHashMap<>();
    private final String ownOfSource;
    private final String ownOfTarget;

    SchemaPairs(List<TableName> source, String ownOfSource, List<TableName> target, String ownOfTarget) {
        this.ownOfSource = ownOfSource;
        this.ownOfTarget = ownOfTarget;
        Set<String> ones = schemas(source, ownOfSource);
        Set<String> others = schemas(target, ownOfTarget);
        if (ones.size() == 1 && others.size() == 1) {
            targetOf.put(ones.iterator().next(), others.iterator().next());
        } else {
            targetOf.putAll(paired(List.copyOf(ones), List.copyOf(others), Function.identity()));
        }
    }

    static SchemaPairs of(Place source, Place target) {
        return new SchemaPairs(source.tables(), source.ownSchema(), target.tables(), target.ownSchema());
    }

    private static Set<String> schemas(List<TableName> tables, String own) {
        Set<String> schemas = new TreeSet<>();
        tables.forEach(t -> schemas.add(t.schema().orElse(own)));
        return schemas;
    }

    /** Whether two tables stand in schemas that belong together. */
    boolean pair(TableName source, TableName target) {
        return Optional.ofNullable(targetOf.get(source.schema().orElse(ownOfSource)))
                .filter(target.schema().orElse(ownOfTarget)::equals)
                .isPresent();
    }

    /**
     * Things of both sides by their names: those of exactly the same one, then those whose names are the same but for
     * letter case, where each side has one such left.
     */
    static <T> Map<T, T> paired(List<T> ones, List<T> others, Function<T, String> name) {
        Map<T, T> pairs = new LinkedHashMap<>();
        List<T> left = new java.util.ArrayList<>(others);
        for (T one : ones) {
            left.stream()
                    .filter(o -> name.apply(o).equals(name.apply(one)))
                    .findFirst()
                    .ifPresent(o -> {
                        pairs.put(one, o);
                        left.remove(o);
                    });
        }
        for (T one : ones) {
            List<T> alike = left.stream()
                    .filter(o -> name.apply(o).equalsIgnoreCase(name.apply(one)))
                    .toList();
            boolean alone = ones.stream()
                            .filter(o -> !pairs.containsKey(o) && name.apply(o).equalsIgnoreCase(name.apply(one)))
                            .count()
                    == 1;
            if (!pairs.containsKey(one) && alone && alike.size() == 1) {
                pairs.put(one, alike.get(0));
                left.remove(alike.get(0));
            }
        }
        return pairs;
    }
}
