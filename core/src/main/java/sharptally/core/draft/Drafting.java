package sharptally.core.draft;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Predicate;
import java.util.function.Supplier;
import sharptally.core.draft.Draft.Columns;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.Hint;
import sharptally.core.fault.ToolException;
import sharptally.core.match.text.Glob;
import sharptally.core.place.Place;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;

/**
 * Drafts the matches between two places. Rows are read only where names leave a doubt, and never more of a table than
 * its sample; a key that a database does not hold unique is looked for in all rows, by the database.
 */
public final class Drafting {
    private static final int SAMPLE_ROWS = 2_000;
    private static final int SAMPLE_CELLS = 200_000;

    private final Place source;
    private final Place target;
    private final boolean readsRows;
    private final List<Map.Entry<Glob, Glob>> said;
    private final Map<TableShape, Sample> ofSourceTables = new HashMap<>();
    private final Map<TableShape, Sample> ofTargetTables = new HashMap<>();

    /**
     * @param readsRows whether rows may be looked at; else names and declarations alone tell
     * @param said pairs of tables as the user wants them, with wildcards
     */
    public Drafting(Place source, Place target, boolean readsRows, List<Map.Entry<Glob, Glob>> said) {
        this.source = source;
        this.target = target;
        this.readsRows = readsRows;
        this.said = List.copyOf(said);
    }

    /**
     * @param ofSource which tables of the source take part
     * @throws ToolException when a pair that the user wants finds no two tables
     */
    public Draft draft(Predicate<TableName> ofSource, Predicate<TableName> ofTarget) {
        List<TableShape> ones = shapes(source, ofSource);
        List<TableShape> others = shapes(target, ofTarget);
        TableDraft tables = new TableDraft(ones, others);
        List<Map.Entry<Glob, Glob>> idle = tables.asSaid(said, source.ownSchema(), target.ownSchema());
        if (!idle.isEmpty()) {
            throw ToolException.all(
                    ErrorKind.USAGE,
                    idle.stream()
                            .map(p -> "a pair finds no two tables: "
                                    + p.getKey().text() + "=" + p.getValue().text())
                            .toList(),
                    Hint.CHECK_PAIRS);
        }
        tables.byName();
        if (readsRows) {
            tables.byContent(t -> sample(source, t), t -> sample(target, t));
        }
        List<Draft.Pair> pairs = new ArrayList<>();
        tables.found().forEach((one, found) -> pairs.add(pair(one, found)));
        pairs.sort(java.util.Comparator.comparingInt(p -> ones.indexOf(p.source())));
        return new Draft(pairs, tables.sourceLeft(), tables.targetLeft());
    }

    private static List<TableShape> shapes(Place place, Predicate<TableName> wanted) {
        return place.tables().stream()
                .filter(wanted)
                .map(t -> place.describe(t.toString()))
                .toList();
    }

    private Sample sample(Place place, TableShape table) {
        int rows = Math.max(
                50,
                Math.min(SAMPLE_ROWS, SAMPLE_CELLS / Math.max(1, table.columns().size())));
        return (place == source ? ofSourceTables : ofTargetTables)
                .computeIfAbsent(table, t -> Sample.read(place, t, rows));
    }

    /** The columns and key of two tables that are known to belong together. */
    public Draft.Pair pairOf(TableShape one, TableShape other) {
        return pair(one, new TableDraft.Found(other, "as asked for", List.of()));
    }

    private Draft.Pair pair(TableShape one, TableDraft.Found found) {
        TableShape other = found.target();
        Supplier<Optional<List<Sample>>> both =
                () -> readsRows ? Optional.of(List.of(sample(source, one), sample(target, other))) : Optional.empty();
        List<Columns> columns = WrittenDraft.of(ColumnDraft.of(one, other, both), both);
        Draft.Key key = new KeyDraft(
                        one, other, columns, readsRows ? Optional.of(List.of(source, target)) : Optional.empty())
                .find(both);
        return new Draft.Pair(
                one,
                other,
                found.how(),
                found.doubts(),
                columns,
                left(one, columns.stream().map(Columns::source).toList()),
                left(other, columns.stream().map(Columns::target).toList()),
                key);
    }

    private static List<ColumnShape> left(TableShape table, List<ColumnShape> used) {
        return table.columns().stream().filter(c -> !used.contains(c)).toList();
    }
}
