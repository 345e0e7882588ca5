package sharptally.engines.jdbc.catalogue;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Function;

/** Rows of a catalogue query that belong together, such as the columns of an index. */
public final class Grouped {
    private Grouped() {}

    /** In the order in which each group and each of its members came first. */
    public static <T> List<List<T>> by(List<T> rows, Function<T, String> name) {
        Map<String, List<T>> groups = new LinkedHashMap<>();
        rows.forEach(row ->
                groups.computeIfAbsent(name.apply(row), n -> new ArrayList<>()).add(row));
        return List.copyOf(groups.values());
    }
}
