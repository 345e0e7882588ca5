package sharptally.core.match;

import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;

/** Finds columns by name as {@link TableShape#column} does, in tables of thousands of them. */
final class ColumnIndex {
    private final Map<String, ColumnShape> exact = new HashMap<>();
    private final Map<String, List<ColumnShape>> folded;

    ColumnIndex(TableShape table) {
        table.columns().forEach(c -> exact.put(c.name(), c));
        folded = table.columns().stream()
                .collect(Collectors.groupingBy(c -> c.name().toLowerCase(Locale.ROOT)));
    }

    /** The column of exactly this name, else the only one that differs by letter case alone. */
    Optional<ColumnShape> find(String name) {
        List<ColumnShape> alike = folded.getOrDefault(name.toLowerCase(Locale.ROOT), List.of());
        return Optional.ofNullable(exact.get(name))
                .or(() -> alike.size() == 1 ? Optional.of(alike.get(0)) : Optional.empty());
    }
}
