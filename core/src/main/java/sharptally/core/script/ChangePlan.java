package sharptally.core.script;

import java.util.ArrayList;
import java.util.Collections;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import sharptally.core.match.TableMatch;
import sharptally.core.script.Change.Field;
import sharptally.core.script.ChangeSink.Stage;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.ForeignKey;
import sharptally.core.shape.TableName;
import sharptally.core.types.Value;

/**
 * The changes for the findings of several matches, in an order that foreign keys allow.
 *
 * <p>Idea: tables are put in an order in which parents come before their children. Going down that order, rows are
 * updated and inserted; going up, rows are deleted. A table that no other refers to has its deletes first of all, so
 * that a row can take over a unique value from one that goes. In a table that refers to itself, a row is inserted
 * without its reference when that names a row further on in key order, and gets it afterwards; rows are deleted in
 * reverse key order.
 *
 * <p>Memory: flat, but for the deletes of a table that refers to itself.
 */
public final class ChangePlan {
    private final List<TableMatch> parentsFirst;
    private final Set<String> referredTo;
    private final FindingReader findings;
    private final Direction direction;

    public ChangePlan(List<TableMatch> matches, FindingReader findings, Direction direction) {
        this.parentsFirst = parentsFirst(matches);
        this.referredTo = referredTo(matches);
        this.findings = findings;
        this.direction = direction;
    }

    /** The matches, parents first. */
    public List<TableMatch> matches() {
        return parentsFirst;
    }

    /** Hands all changes to the sink, table by table; a stage without changes is not begun. */
    public void play(ChangeSink sink) {
        for (TableMatch match : parentsFirst) {
            if (!isReferredTo(match)) {
                playStage(match, Stage.DELETES, sink);
            }
            playStage(match, Stage.UPDATES, sink);
            playStage(match, Stage.INSERTS, sink);
            if (selfReference(match).isPresent()) {
                playStage(match, Stage.REFERENCES, sink);
            }
        }
        List<TableMatch> childrenFirst = new ArrayList<>(parentsFirst);
        Collections.reverse(childrenFirst);
        for (TableMatch match : childrenFirst) {
            if (isReferredTo(match)) {
                playStage(match, Stage.DELETES, sink);
            }
        }
    }

    private void playStage(TableMatch match, Stage stage, ChangeSink sink) {
        long[] rows = {0};
        Consumer<Change> hand = change -> {
            if (rows[0]++ == 0) {
                sink.beginTable(match, stage);
            }
            sink.change(match, change);
        };
        boolean reversed = stage == Stage.DELETES && selfReference(match).isPresent();
        List<Change> held = new ArrayList<>();
        ChangeMaker maker = new ChangeMaker(match, direction);
        findings.forEach(
                match,
                finding -> maker.changes(finding)
                        .flatMap(change -> inStage(match, change, stage).stream())
                        .forEach(reversed ? held::add : hand));
        Collections.reverse(held);
        held.forEach(hand);
        if (rows[0] > 0) {
            sink.endTable(match, stage, rows[0]);
        }
    }

    private static Optional<Change> inStage(TableMatch match, Change change, Stage stage) {
        return switch (stage) {
            case DELETES -> Optional.of(change).filter(Change.Delete.class::isInstance);
            case UPDATES -> Optional.of(change).filter(Change.Update.class::isInstance);
            case INSERTS ->
                change instanceof Change.Insert insert
                        ? Optional.of(later(match, insert).isEmpty() ? insert : withoutReference(match, insert))
                        : Optional.empty();
            case REFERENCES -> change instanceof Change.Insert insert ? later(match, insert) : Optional.empty();
        };
    }

    /** The update that gives an inserted row its reference to a row that is inserted after it. */
    private static Optional<Change> later(TableMatch match, Change.Insert insert) {
        Optional<ForeignKey> own = selfReference(match);
        if (own.isEmpty() || match.key().size() != 1) {
            return Optional.empty();
        }
        ColumnShape keyColumn = match.keyPairs().get(0).target();
        Field key = field(insert, keyColumn.name());
        Field reference = field(insert, own.get().columns().get(0));
        if (reference.value() instanceof Value.Null
                || !reference.column().nullable()
                || isBefore(reference.value(), key.value())) {
            return Optional.empty();
        }
        return Optional.of(new Change.Update(
                List.of(key), List.of(new Field(reference.column(), Value.NULL)), List.of(reference)));
    }

    private static Change withoutReference(TableMatch match, Change.Insert insert) {
        String name = selfReference(match).orElseThrow().columns().get(0);
        List<Field> row = insert.row().stream()
                .map(f -> f.column().name().equals(name) ? new Field(f.column(), Value.NULL) : f)
                .toList();
        return new Change.Insert(row, insert.key());
    }

    private static Field field(Change.Insert insert, String column) {
        return insert.row().stream()
                .filter(f -> f.column().name().equals(column))
                .findFirst()
                .orElseThrow(() -> new IllegalStateException("no value for " + column));
    }

    private static boolean isBefore(Value one, Value other) {
        var cells = new sharptally.core.rows.Column(2);
        cells.add(one);
        cells.add(other);
        return sharptally.core.rows.CellOrder.compare(cells, 0, cells, 1) < 0;
    }

    /** A foreign key of one column from the table to its own match key, both among the compared columns. */
    private static Optional<ForeignKey> selfReference(TableMatch match) {
        return match.target().foreignKeys().stream()
                .filter(f -> isSame(f.parent(), match.target().name()))
                .filter(f -> f.columns().size() == 1)
                .filter(f -> match.pairs().stream()
                        .anyMatch(p -> p.target().name().equals(f.columns().get(0))))
                .findFirst();
    }

    private boolean isReferredTo(TableMatch match) {
        return referredTo.contains(folded(match.target().name()));
    }

    private static Set<String> referredTo(List<TableMatch> matches) {
        Set<String> names = new HashSet<>();
        matches.forEach(m -> m.target().foreignKeys().forEach(f -> names.add(folded(f.parent()))));
        return names;
    }

    private static boolean isSame(TableName one, TableName other) {
        return folded(one).equals(folded(other));
    }

    private static String folded(TableName table) {
        return table.name().toLowerCase(Locale.ROOT);
    }

    private static List<TableMatch> parentsFirst(List<TableMatch> matches) {
        Set<TableMatch> ordered = new LinkedHashSet<>();
        matches.forEach(m -> visit(m, matches, ordered, new HashSet<>()));
        return List.copyOf(ordered);
    }

    private static void visit(
            TableMatch match, List<TableMatch> all, Set<TableMatch> ordered, Set<TableMatch> onTheWay) {
        if (ordered.contains(match) || !onTheWay.add(match)) {
            return;
        }
        for (ForeignKey key : match.target().foreignKeys()) {
            all.stream()
                    .filter(m -> isSame(m.target().name(), key.parent()))
                    .forEach(parent -> visit(parent, all, ordered, onTheWay));
        }
        ordered.add(match);
    }
}
