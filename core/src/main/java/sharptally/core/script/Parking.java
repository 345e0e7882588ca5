package sharptally.core.script;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;
import sharptally.core.match.ShapeNotes;
import sharptally.core.match.TableMatch;
import sharptally.core.script.Change.Field;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.KeyShape;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;

/**
 * Values of unique columns that rows exchange. No order of single updates can carry such an exchange out; so a row that
 * holds what another one is to get first has its own set aside: to NULL where that may be, else to a value that no row is
 * likely to have. If one has it after all, the database refuses, and nothing is done.
 *
 * <p>For unique keys of one column. Memory: the new values of unique columns that are changed.
 */
final class Parking {
    private static final long FIRST_NUMBER = -2_000_000_000L;

    private final Map<ColumnShape, Set<Value>> wanted = new HashMap<>();
    private long parked;

    /** Columns that the database holds unique by themselves, outside the key of the match. */
    static List<ColumnShape> uniqueColumns(TableMatch match) {
        return match.target().keys().stream()
                .map(KeyShape::columns)
                .filter(columns -> columns.size() == 1)
                .flatMap(columns -> match.target().column(columns.get(0)).stream())
                .filter(c -> match.keyPairs().stream().noneMatch(p -> p.target().equals(c)))
                .distinct()
                .toList();
    }

    /** Takes note of what a row is to get. */
    void note(Change.Update update, List<ColumnShape> unique) {
        update.after().stream()
                .filter(f -> unique.contains(f.column()) && !(f.value() instanceof Value.Null))
                .forEach(f ->
                        wanted.computeIfAbsent(f.column(), c -> new HashSet<>()).add(f.value()));
    }

    /** Begins to go through the rows, always in the same order. */
    void restart() {
        parked = 0;
    }

    /** What sets a row's values aside, to be made before all updates; empty where nothing is exchanged. */
    Optional<Change.Update> aside(Change.Update update) {
        List<Field> before = new ArrayList<>();
        List<Field> after = new ArrayList<>();
        for (Field held : update.before()) {
            instead(held).ifPresent(value -> {
                before.add(held);
                after.add(new Field(held.column(), value));
            });
        }
        return before.isEmpty() ? Optional.empty() : Optional.of(new Change.Update(update.key(), before, after));
    }

    /** The update of a row whose values were set aside. */
    Change.Update from(Change.Update update) {
        List<Field> before = update.before().stream()
                .map(held -> instead(held)
                        .map(value -> new Field(held.column(), value))
                        .orElse(held))
                .toList();
        return new Change.Update(update.key(), before, update.after());
    }

    private Optional<Value> instead(Field held) {
        if (!wanted.getOrDefault(held.column(), Set.of()).contains(held.value())) {
            return Optional.empty();
        }
        if (held.column().nullable()) {
            return Optional.of(Value.NULL);
        }
        Kind kind = held.column().type().orElseThrow().kind();
        if (kind == Kind.INTEGER || kind == Kind.DECIMAL) {
            return Optional.of(new Value.Int(FIRST_NUMBER + parked++));
        }
        String text = "~" + parked;
        OptionalLong most = ShapeNotes.length(held.column());
        if (kind == Kind.TEXT && (most.isEmpty() || text.length() <= most.getAsLong())) {
            parked++;
            return Optional.of(new Value.Text(text));
        }
        return Optional.empty();
    }
}
