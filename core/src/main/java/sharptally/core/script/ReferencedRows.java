package sharptally.core.script;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.IntStream;
import sharptally.core.finding.Difference;
import sharptally.core.finding.Finding;
import sharptally.core.finding.Marked;
import sharptally.core.match.TableMatch;
import sharptally.core.shape.ForeignKey;
import sharptally.core.types.Value;

/**
 * The rows that chosen rows refer to by a foreign key, that the changed side does not have either, and that were not
 * chosen; and those that these refer to in turn.
 *
 * <p>Memory: the missing rows that were not chosen of tables that others refer to.
 */
public final class ReferencedRows implements Marked {
    /** A row that was not chosen. */
    private record Unchosen(TableMatch match, Finding.Missing finding) {}

    private record Reference(TableMatch child, ForeignKey key, TableMatch parent) {}

    private final Map<String, Set<List<Value>>> needed = new LinkedHashMap<>();

    private ReferencedRows() {}

    /** Of chosen findings. */
    public static ReferencedRows of(ChosenFindings chosen) {
        ReferencedRows parents = new ReferencedRows();
        if (!chosen.filter().wantsAll()) {
            parents.find(chosen);
        }
        return parents;
    }

    private void find(ChosenFindings chosen) {
        List<TableMatch> all = chosen.oriented();
        List<Reference> references = new ArrayList<>();
        for (TableMatch child : all) {
            for (ForeignKey key : child.target().foreignKeys()) {
                all.stream()
                        .filter(m -> m.target()
                                .name()
                                .name()
                                .equalsIgnoreCase(key.parent().name()))
                        .forEach(parent -> references.add(new Reference(child, key, parent)));
            }
        }
        Map<Reference, Map<List<Value>, Unchosen>> unchosen = new HashMap<>();
        for (Reference reference : references) {
            Map<List<Value>, Unchosen> rows = new HashMap<>();
            chosen.forEachUnchosen(reference.parent(), finding -> {
                if (finding instanceof Finding.Missing missing) {
                    values(reference.parent(), reference.key().parentColumns(), missing)
                            .ifPresent(v -> rows.put(v, new Unchosen(reference.parent(), missing)));
                }
            });
            if (!rows.isEmpty()) {
                unchosen.put(reference, rows);
            }
        }
        List<Unchosen> found = new ArrayList<>();
        for (Reference reference : unchosen.keySet()) {
            if (chosen.chosen().contains(reference.child())) {
                chosen.forEach(reference.child(), f -> follow(reference, f, unchosen, found));
            }
        }
        for (int i = 0; i < found.size(); i++) {
            Unchosen parent = found.get(i);
            unchosen.keySet().stream()
                    .filter(r -> r.child().equals(parent.match()))
                    .toList()
                    .forEach(r -> follow(r, parent.finding(), unchosen, found));
        }
    }

    private void follow(
            Reference reference,
            Finding child,
            Map<Reference, Map<List<Value>, Unchosen>> unchosen,
            List<Unchosen> found) {
        values(reference.child(), reference.key().columns(), child)
                .map(unchosen.get(reference)::get)
                .filter(parent -> needed.computeIfAbsent(parent.match().name(), m -> new LinkedHashSet<>())
                        .add(parent.finding().key()))
                .ifPresent(found::add);
    }

    /** What a row is to hold in some columns of the changed side; empty where a finding does not tell. */
    private static Optional<List<Value>> values(TableMatch match, List<String> columns, Finding finding) {
        List<Value> values = new ArrayList<>();
        for (String column : columns) {
            Optional<Value> value = IntStream.range(0, match.pairs().size())
                    .filter(i -> match.pairs().get(i).target().name().equalsIgnoreCase(column))
                    .boxed()
                    .findFirst()
                    .flatMap(i -> value(finding, i));
            if (value.isEmpty() || value.get() instanceof Value.Null) {
                return Optional.empty();
            }
            values.add(value.get());
        }
        return Optional.of(values);
    }

    private static Optional<Value> value(Finding finding, int pair) {
        if (finding instanceof Finding.Missing missing) {
            return Optional.of(missing.row().get(pair));
        }
        return finding instanceof Finding.Changed changed
                ? changed.differences().stream()
                        .filter(d -> d.pair() == pair)
                        .map(Difference::source)
                        .findFirst()
                : Optional.empty();
    }

    @Override
    public boolean holds(TableMatch match, Finding finding) {
        return needed.getOrDefault(match.name(), Set.of()).contains(finding.key());
    }

    /** A sentence for each table of which rows are needed. */
    public List<String> warnings() {
        return needed.entrySet().stream()
                .map(e -> "rows that were chosen refer to " + e.getValue().size() + " of " + e.getKey()
                        + " that were not, first " + e.getValue().iterator().next())
                .toList();
    }
}
