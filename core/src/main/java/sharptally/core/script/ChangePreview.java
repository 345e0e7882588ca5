package sharptally.core.script;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import sharptally.core.match.ColumnPair;
import sharptally.core.match.TableMatch;
import sharptally.core.script.Change.Field;
import sharptally.core.script.fit.EqualKeys;
import sharptally.core.script.fit.Fit;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Generation;
import sharptally.core.shape.SideEffects;
import sharptally.core.shape.TableShape;
import sharptally.core.sql.SqlDialect;

/** Finds out, from what is known without asking the target, what would be done, refused, or done besides. */
public final class ChangePreview {
    /** How often something would happen, and to which row first. */
    private record Seen(long rows, String first) {
        Seen and(Seen more) {
            return new Seen(rows + more.rows, first);
        }
    }

    private final Map<String, Seen> refused = new LinkedHashMap<>();
    private final Map<TableMatch, Boolean> inserted = new HashMap<>();
    private final Map<TableMatch, EqualKeys> equalKeys = new HashMap<>();
    private final Map<TableMatch, Long> changed = new HashMap<>();
    private final Map<TableMatch, Long> deleted = new LinkedHashMap<>();

    private final SqlDialect dialect;

    private ChangePreview(SqlDialect dialect) {
        this.dialect = dialect;
    }

    /**
     * Of the changes of a plan.
     *
     * @param counts how many there are
     * @param warnings a sentence for all that a person should know before they are made
     */
    public record Found(ChangeCounts counts, List<String> warnings) {}

    /** Reads the plan through once. */
    public static Found of(ChangePlan plan) {
        ChangePreview outlook = new ChangePreview(plan.dialect());
        ChangeCounts counts = ChangeCounts.of(plan, outlook::look);
        plan.losses((match, loss) -> outlook.refused.merge(
                loss.told(match.target().name().toString()), new Seen(1, told(loss.key())), Seen::and));
        plan.matches().forEach(m -> {
            ChangeCounts.PerTable changes =
                    counts.tables().get(m.target().name().name());
            if (changes != null) {
                outlook.inserted.put(m, changes.inserts() > 0);
                outlook.changed.put(m, changes.all());
                outlook.deleted.put(m, changes.deletes());
            }
        });
        return new Found(counts, outlook.sentences(plan));
    }

    private List<String> sentences(ChangePlan plan) {
        List<String> warnings = new ArrayList<>();
        plan.matches().stream()
                .filter(m -> inserted.containsKey(m) && m.target().hasTriggers())
                .forEach(m -> {
                    long changes = changed.get(m);
                    warnings.add("table " + m.target().name() + " has triggers, which run with "
                            + (changes == 1 ? "this change" : "these " + changes + " changes"));
                });
        inserted.entrySet().stream().filter(Map.Entry::getValue).forEach(m -> {
            ungiven(m.getKey(), false, "which must not be NULL and so needs a default")
                    .ifPresent(warnings::add);
            ungiven(m.getKey(), true, "not compared: NULL or a default will be there")
                    .ifPresent(warnings::add);
        });
        deleted.forEach((match, rows) -> Stream.of(reactions(match.target(), rows), forms(match, rows))
                .flatMap(Optional::stream)
                .forEach(warnings::add));
        refused.forEach((what, seen) ->
                warnings.add(what + ": " + seen.rows + (seen.rows == 1 ? " row" : " rows") + ", first " + seen.first));
        return warnings;
    }

    /** Tells of rows that are equal and yet not alike, of which only one form is known. */
    private static Optional<String> forms(TableMatch match, long rows) {
        String columns = match.pairs().stream()
                .map(ColumnPair::target)
                .filter(c -> c.writable() && Fit.hasForms(c))
                .map(ColumnShape::name)
                .collect(Collectors.joining(", "));
        return rows == 0 || !match.wholeRow() || columns.isEmpty()
                ? Optional.empty()
                : Optional.of("rows deleted from " + match.target().name() + ", which has no key, come back with "
                        + columns + " in the form of one of those that are equal (as 1.0 and 1.00)");
    }

    /** Tells what may go with rows that are deleted. */
    private static Optional<String> reactions(TableShape table, long rows) {
        List<SideEffects.Reaction> reactions = table.sideEffects().reactions();
        return rows == 0 || reactions.isEmpty()
                ? Optional.empty()
                : Optional.of(rows + (rows == 1 ? " row is" : " rows are") + " deleted from " + table.name()
                        + ", and rows that still refer to them are "
                        + reactions.stream()
                                .map(r -> (r.deletes() ? "deleted with them (" : "changed (") + r.table() + ")")
                                .distinct()
                                .collect(Collectors.joining(", "))
                        + " by the database: everything stops there, unless cascades are allowed, and then no undo"
                        + " brings those back");
    }

    /** Tells of columns that inserted rows give no value to, and what comes of it. */
    private static Optional<String> ungiven(TableMatch match, boolean nullable, String outcome) {
        String columns = match.target().columns().stream()
                .filter(c -> c.nullable() == nullable && c.generation() == Generation.NONE)
                .filter(c -> match.pairs().stream().noneMatch(p -> p.target().equals(c)))
                .map(ColumnShape::name)
                .collect(Collectors.joining(", "));
        return columns.isEmpty()
                ? Optional.empty()
                : Optional.of("rows inserted into " + match.target().name() + " give no value to " + columns + ", "
                        + outcome);
    }

    private void look(TableMatch match, Change change) {
        List<Field> values = change instanceof Change.Insert insert
                ? insert.row()
                : change instanceof Change.Update update ? update.after() : List.of();
        if (change instanceof Change.Insert insert
                && equalKeys
                        .computeIfAbsent(match, m -> new EqualKeys(m.target()))
                        .isAnother(insert.row())) {
            refused.merge(
                    "the target may refuse rows inserted into " + match.target().name()
                            + " of which a key is another's by its collation",
                    new Seen(1, key(match, change)),
                    Seen::and);
        }
        if (change instanceof Change.Update update && !update.lookedAt()) {
            unguarded(match, update).ifPresent(what -> refused.merge(what, new Seen(1, key(match, change)), Seen::and));
        }
        for (Field field : values) {
            Fit.refusal(dialect, field.column(), field.value())
                    .ifPresent(what -> refused.merge(
                            "the target would refuse " + match.target().name() + "."
                                    + field.column().name() + ", which " + what,
                            new Seen(1, key(match, change)),
                            Seen::and));
        }
    }

    /** Tells of columns that are not in the guard of an update, as what they hold is too long. */
    private static Optional<String> unguarded(TableMatch match, Change.Update update) {
        Set<String> known = Stream.of(update.key(), update.before(), update.others())
                .flatMap(List::stream)
                .map(f -> f.column().name())
                .collect(Collectors.toSet());
        String columns = match.pairs().stream()
                .map(ColumnPair::target)
                .filter(c -> c.writable() && !known.contains(c.name()))
                .map(ColumnShape::name)
                .collect(Collectors.joining(", "));
        return columns.isEmpty()
                ? Optional.empty()
                : Optional.of("updates of " + match.target().name() + " do not look at " + columns
                        + ", of which the run keeps no values");
    }

    /** The row by its key alone. */
    public static String key(TableMatch match, Change change) {
        List<String> names =
                match.keyPairs().stream().map(p -> p.target().name()).toList();
        Stream<Field> fields = change instanceof Change.Insert insert
                ? insert.row().stream()
                : change instanceof Change.Update update
                        ? update.key().stream()
                        : ((Change.Delete) change).row().stream();
        return told(fields.filter(f -> names.contains(f.column().name())).toList());
    }

    private static String told(List<Field> key) {
        return key.stream().map(f -> f.column().name() + " " + f.value()).collect(Collectors.joining(", "));
    }
}
