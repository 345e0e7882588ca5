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
import sharptally.core.finding.FindingKind;
import sharptally.core.match.TableMatch;
import sharptally.core.script.Change.Field;
import sharptally.core.script.ChangeSink.Stage;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.ForeignKey;
import sharptally.core.shape.TableName;
import sharptally.core.sql.SqlDialect;
import sharptally.core.types.Value;

/**
 * The changes for the findings of several matches, in an order that foreign keys allow.
 *
 * <p>Idea: tables are put in an order in which parents come before their children. Going down that order, rows are
 * updated and inserted (in a table that refers to itself, inserted and updated); going up, rows are deleted. A table that no other refers to has its deletes first of all, so
 * that a row can take over a unique value from one that goes. In a table that refers to itself, a row is inserted
 * without its reference when that names a row further on in key order, and gets it afterwards; rows are deleted in
 * reverse key order, such references being taken away first.
 *
 * <p>Values of a unique column that rows exchange are set aside first.
 *
 * <p>Memory: flat, but for the deletes of a table that refers to itself.
 */
public final class ChangePlan {
    private final List<TableMatch> parentsFirst;
    private final Set<String> referredTo;
    private final FindingReader findings;
    private final Direction direction;
    private final SqlDialect dialect;

    /**
     * @param dialect of the target
     */
    public ChangePlan(List<TableMatch> matches, FindingReader findings, Direction direction, SqlDialect dialect) {
        List<TableMatch> writable =
                matches.stream().filter(m -> m.notWritable().isEmpty()).toList();
        this.parentsFirst = parentsFirst(writable);
        this.referredTo = referredTo(matches);
        this.findings = findings;
        this.direction = direction;
        this.dialect = dialect;
    }

    /** The matches whose targets can be written to, parents first. */
    public List<TableMatch> matches() {
        return parentsFirst;
    }

    /** Hands all changes to the sink, table by table; a stage without changes is not begun. */
    public void play(ChangeSink sink) {
        for (TableMatch match : parentsFirst) {
            if (!isReferredTo(match)) {
                playDeletes(match, sink);
            }
            playStage(match, Stage.ASIDE, sink);
            if (selfReference(match).isPresent()) {
                // An update may name a row that is yet to be inserted.
                playStage(match, Stage.INSERTS, sink);
                playStage(match, Stage.REFERENCES, sink);
                playStage(match, Stage.UPDATES, sink);
            } else {
                playStage(match, Stage.UPDATES, sink);
                playStage(match, Stage.INSERTS, sink);
            }
        }
        List<TableMatch> childrenFirst = new ArrayList<>(parentsFirst);
        Collections.reverse(childrenFirst);
        for (TableMatch match : childrenFirst) {
            if (isReferredTo(match)) {
                playDeletes(match, sink);
            }
        }
    }

    private void playDeletes(TableMatch match, ChangeSink sink) {
        if (selfReference(match).isPresent()) {
            playStage(match, Stage.UNREFERENCES, sink);
        }
        playStage(match, Stage.DELETES, sink);
    }

    private void playStage(TableMatch match, Stage stage, ChangeSink sink) {
        long[] rows = {0};
        Consumer<Change> hand = change -> {
            if (rows[0]++ == 0) {
                sink.beginTable(match, stage);
            }
            sink.change(match, change);
        };
        List<ColumnShape> unique =
                stage == Stage.ASIDE || stage == Stage.UPDATES ? Parking.uniqueColumns(match) : List.of();
        if (stage == Stage.ASIDE && unique.isEmpty() || !findings.mayHave(match, source(stage))) {
            return;
        }
        Parking parking = parking(match, unique);
        boolean reversed = stage == Stage.DELETES && selfReference(match).isPresent();
        List<Change> held = new ArrayList<>();
        ChangeMaker maker = new ChangeMaker(match, direction, dialect);
        Consumer<Change> to = reversed ? held::add : hand;
        findings.forEach(
                match,
                finding -> maker.changes(finding)
                        .forEach(
                                change -> inStage(match, change, stage, parking).ifPresent(to)));
        Collections.reverse(held);
        held.forEach(hand);
        if (rows[0] > 0) {
            sink.endTable(match, stage, rows[0]);
        }
    }

    /** The kind of findings that a stage's changes come from. */
    private FindingKind source(Stage stage) {
        boolean mending = direction == Direction.MEND;
        return switch (stage) {
            case ASIDE, UPDATES -> FindingKind.CHANGED;
            case INSERTS, REFERENCES -> mending ? FindingKind.MISSING : FindingKind.EXTRA;
            case DELETES, UNREFERENCES -> mending ? FindingKind.EXTRA : FindingKind.MISSING;
        };
    }

    private Parking parking(TableMatch match, List<ColumnShape> unique) {
        Parking parking = new Parking();
        if (!unique.isEmpty()) {
            ChangeMaker maker = new ChangeMaker(match, direction, dialect);
            findings.forEach(
                    match,
                    finding -> maker.changes(finding).forEach(change -> {
                        if (change instanceof Change.Update update) {
                            parking.note(update, unique);
                        }
                    }));
        }
        return parking;
    }

    private static Optional<Change> inStage(TableMatch match, Change change, Stage stage, Parking parking) {
        if (change instanceof Change.Update update) {
            return switch (stage) {
                case ASIDE -> parking.aside(update).map(aside -> aside);
                case UPDATES -> Optional.of(parking.from(update));
                default -> Optional.empty();
            };
        }
        if (change instanceof Change.Insert insert) {
            Optional<Field> forward = forwardReference(match, insert.row());
            return switch (stage) {
                case INSERTS ->
                    Optional.of(
                            forward.isEmpty()
                                    ? insert
                                    : new Change.Insert(without(insert.row(), forward.get()), insert.key()));
                case REFERENCES ->
                    forward.map(f -> new Change.Update(key(match, insert.row()), List.of(none(f)), List.of(f)));
                default -> Optional.empty();
            };
        }
        if (change instanceof Change.Delete delete) {
            Optional<Field> forward = forwardReference(match, delete.row());
            return switch (stage) {
                case DELETES ->
                    Optional.of(
                            forward.isEmpty()
                                    ? delete
                                    : new Change.Delete(
                                            without(delete.row(), forward.get()),
                                            delete.keyColumns(),
                                            delete.oneOfMany()));
                case UNREFERENCES ->
                    forward.map(f -> new Change.Update(key(match, delete.row()), List.of(f), List.of(none(f))));
                default -> Optional.empty();
            };
        }
        throw new IllegalStateException("no stage for " + change);
    }

    /**
     * The reference of a row to another of its table that, going through the table in key order, comes after it (or
     * is it). Where the column must not be NULL there is no way around, and none is given.
     */
    private static Optional<Field> forwardReference(TableMatch match, List<Field> row) {
        Optional<ForeignKey> own = selfReference(match);
        if (own.isEmpty() || match.key().size() != 1) {
            return Optional.empty();
        }
        Field reference = field(row, own.get().columns().get(0));
        boolean goesForward = !(reference.value() instanceof Value.Null)
                && reference.column().nullable()
                && !isBefore(reference.value(), key(match, row).get(0).value());
        return goesForward ? Optional.of(reference) : Optional.empty();
    }

    private static List<Field> key(TableMatch match, List<Field> row) {
        return List.of(field(row, match.keyPairs().get(0).target().name()));
    }

    private static Field none(Field field) {
        return new Field(field.column(), Value.NULL);
    }

    private static List<Field> without(List<Field> row, Field reference) {
        return row.stream().map(f -> f.equals(reference) ? none(f) : f).toList();
    }

    private static Field field(List<Field> row, String column) {
        return row.stream()
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
