package sharptally.core.script.rewrite;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.match.ColumnPair;
import sharptally.core.match.TableMatch;
import sharptally.core.rows.KeyOrder;
import sharptally.core.script.Change;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.Value;

/**
 * The changes of one table by the rows that they are about, for whoever goes through its rows. Each row is asked for once;
 * whoever does that learns what becomes of it. Memory: all changes.
 */
public final class RowChanges {
    private static final int MOST = 500_000;

    private final TableMatch match;
    private final List<ColumnShape> key;
    private final Map<List<Value>, Deque<Change>> byKey = new TreeMap<>(KeyOrder.ASCENDING);
    private final List<Change.Insert> inserts = new ArrayList<>();
    private final Map<List<Value>, Change.Insert> guarded = new TreeMap<>(KeyOrder.ASCENDING);
    /** Rows of a key that is to change, which are not as one of its changes wants them. */
    private final Map<List<Value>, String> others = new TreeMap<>(KeyOrder.ASCENDING);

    private int all;

    /** What becomes of a row. */
    public sealed interface Fate {
        /** It stays as it is. */
        record Kept() implements Fate {}

        /** It goes. */
        record Removed() implements Fate {}

        /**
         * Some of its values become others.
         *
         * @param values by name of the column
         */
        record Changed(Map<String, Value> values) implements Fate {}
    }

    private static final Fate KEPT = new Fate.Kept();

    public RowChanges(TableMatch match) {
        this.match = match;
        this.key = match.wholeRow()
                ? match.targetColumns()
                : match.keyPairs().stream().map(ColumnPair::target).toList();
    }

    /** The table, by the name under which it was compared. */
    public String table() {
        return match.target().name().toString();
    }

    /** The columns that tell rows apart; all, where no key does. */
    public List<ColumnShape> key() {
        return key;
    }

    /** Whether rows are told apart by a key. */
    public boolean hasKey() {
        return !match.wholeRow();
    }

    /** All columns whose values are looked at. */
    public List<ColumnShape> looked() {
        Set<ColumnShape> columns = new LinkedHashSet<>(key);
        columns.addAll(match.targetColumns());
        return List.copyOf(columns);
    }

    /** Adds a change of the plan. */
    public void add(Change change) {
        if (++all > MOST) {
            throw new ToolException(
                    ErrorKind.REFUSED,
                    "more than " + MOST + " changes of one file",
                    table(),
                    "choose fewer of them, or write the file anew from the other side");
        }
        if (change instanceof Change.Insert insert) {
            inserts.add(insert);
            if (!insert.key().isEmpty()) {
                guarded.put(values(insert.key()), insert);
            }
            return;
        }
        List<Change.Field> found = change instanceof Change.Update update
                ? update.key()
                : ((Change.Delete) change).row().stream().limit(key.size()).toList();
        byKey.computeIfAbsent(ofKey(found), k -> new ArrayDeque<>()).add(change);
    }

    private static List<Value> values(List<Change.Field> fields) {
        return fields.stream().map(Change.Field::value).toList();
    }

    /** In the order of the key. */
    private List<Value> ofKey(List<Change.Field> fields) {
        Map<String, Value> byName =
                fields.stream().collect(Collectors.toMap(f -> f.column().name(), Change.Field::value, (a, b) -> a));
        return key.stream().map(c -> byName.getOrDefault(c.name(), Value.NULL)).toList();
    }

    /**
     * What becomes of the row with this key: where several rows have it, the first change that is about a row like this one.
     *
     * @param valueOf the row's value in a column
     */
    public Fate of(List<Value> rowKey, Function<String, Value> valueOf, String where) {
        Deque<Change> changes = byKey.get(rowKey);
        if (changes == null) {
            if (guarded.containsKey(rowKey)) {
                throw moved("a row of the key of one that is to be inserted is there by now", where);
            }
            return KEPT;
        }
        for (Change change : changes) {
            Optional<Change.Field> other = held(change)
                    .filter(f -> !same(f.value(), valueOf.apply(f.column().name())))
                    .findFirst();
            if (other.isPresent()) {
                String name = other.get().column().name();
                others.put(rowKey, name + " holds " + valueOf.apply(name) + " at " + where);
                continue;
            }
            changes.remove(change);
            if (changes.isEmpty()) {
                byKey.remove(rowKey);
            }
            if (change instanceof Change.Update update) {
                Map<String, Value> values = new LinkedHashMap<>();
                update.after().forEach(f -> values.put(f.column().name(), f.value()));
                return new Fate.Changed(values);
            }
            return new Fate.Removed();
        }
        return KEPT;
    }

    private static Stream<Change.Field> held(Change change) {
        return change instanceof Change.Update update
                ? Stream.concat(update.before().stream(), update.others().stream())
                : ((Change.Delete) change).row().stream();
    }

    private static boolean same(Value one, Value other) {
        return KeyOrder.ASCENDING.compare(List.of(one), List.of(other)) == 0;
    }

    private ToolException moved(String what, String where) {
        return new ToolException(ErrorKind.REFUSED, what + ", so nothing was written", where, "compare again");
    }

    /** Rows that are to be inserted, each as values by name of the column. */
    public List<Map<String, Value>> inserts() {
        return inserts.stream()
                .map(insert -> {
                    Map<String, Value> values = new LinkedHashMap<>();
                    insert.row().forEach(f -> values.put(f.column().name(), f.value()));
                    return values;
                })
                .toList();
    }

    /**
     * To be called when all rows were asked for.
     *
     * @throws ToolException when a row that is to change was none of them
     */
    public void finish(String where) {
        for (List<Value> left : byKey.keySet()) {
            throw others.containsKey(left)
                    ? moved("the row is not as it was compared: " + others.get(left), where)
                    : moved("a row that is to be changed is not there: " + left, where);
        }
    }
}
