package sharptally.core.script;

import java.util.ArrayList;
import java.util.Collections;
import java.util.HashSet;
import java.util.IdentityHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.BiConsumer;
import java.util.function.Consumer;
import java.util.function.Predicate;
import sharptally.core.finding.FindingKind;
import sharptally.core.match.TableMatch;
import sharptally.core.script.Change.Field;
import sharptally.core.script.ChangeSink.Stage;
import sharptally.core.script.fit.Loss;
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
 * reverse key order, such references being taken away first. Where tables refer to each other in a circle, references
 * to a table that comes later are given after all rows are there, and taken away before any goes, if they may be NULL.
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
    private final Map<TableMatch, Set<String>> late = new IdentityHashMap<>();

    /**
     * @param dialect of the target
     */
    public ChangePlan(List<TableMatch> matches, FindingReader findings, Direction direction, SqlDialect dialect) {
        PartsAsOne tables = PartsAsOne.of(matches, findings);
        List<TableMatch> writable =
                tables.matches().stream().filter(m -> m.notWritable().isEmpty()).toList();
        this.parentsFirst = parentsFirst(writable);
        this.referredTo = referredTo(tables.matches());
        this.findings = tables;
        this.direction = direction;
        this.dialect = dialect;
    }

    /** That of the target. */
    SqlDialect dialect() {
        return dialect;
    }

    /**
     * Hands on, for each row that is changed, what tells afterwards that it was.
     *
     * @param end what follows the rows of each table
     */
    public void marks(BiConsumer<TableMatch, Mark> to, Consumer<TableMatch> end) {
        for (TableMatch match : touched()) {
            ChangeMaker maker = new ChangeMaker(match, direction, dialect);
            findings.forEach(match, finding -> maker.mark(finding, mark -> to.accept(match, mark)));
            end.accept(match);
        }
    }

    /** The matches whose targets can be written to, parents first. */
    public List<TableMatch> matches() {
        return parentsFirst;
    }

    /** The matches in which there may be something to change. */
    public List<TableMatch> touched() {
        return parentsFirst.stream()
                .filter(m -> Set.of(FindingKind.MISSING, FindingKind.EXTRA, FindingKind.CHANGED).stream()
                        .anyMatch(kind -> findings.mayHave(m, kind)))
                .toList();
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
                if (!isInCircle(match)) {
                    playStage(match, Stage.REFERENCES, sink);
                }
                playStage(match, Stage.UPDATES, sink);
            } else {
                playStage(match, Stage.UPDATES, sink);
                playStage(match, Stage.INSERTS, sink);
            }
        }
        List<TableMatch> circular =
                parentsFirst.stream().filter(this::isInCircle).toList();
        circular.forEach(match -> playStage(match, Stage.REFERENCES, sink));
        circular.forEach(match -> playStage(match, Stage.UNREFERENCES, sink));
        List<TableMatch> childrenFirst = new ArrayList<>(parentsFirst);
        Collections.reverse(childrenFirst);
        for (TableMatch match : childrenFirst) {
            if (isReferredTo(match)) {
                playDeletes(match, sink);
            }
        }
    }

    /**
     * The tables of which a guard looks for rows that must not be there: those into which rows are inserted whose key the
     * database does not hold unique, and those whose rows would go with others.
     */
    public List<TableName> lookedThrough(boolean reactsFreely) {
        Set<TableName> tables = new LinkedHashSet<>();
        for (TableMatch match : parentsFirst) {
            List<String> key =
                    match.keyPairs().stream().map(p -> p.target().name()).toList();
            boolean inserts = sources(Stage.INSERTS).stream().anyMatch(kind -> findings.mayHave(match, kind));
            if (inserts && !match.wholeRow() && !match.target().holdsUnique(key)) {
                tables.add(match.target().name());
            }
            boolean deletes = sources(Stage.DELETES).stream().anyMatch(kind -> findings.mayHave(match, kind));
            if (deletes && !reactsFreely) {
                match.target().sideEffects().reactions().forEach(r -> tables.add(r.table()));
            }
        }
        return List.copyOf(tables);
    }

    /** What can't be carried over as it is; reads the findings once more where there may be such. */
    void losses(BiConsumer<TableMatch, Loss> to) {
        for (TableMatch match : parentsFirst) {
            if (ChangeMaker.mayLose(match)) {
                ChangeMaker maker = new ChangeMaker(match, direction, dialect);
                findings.forEach(match, finding -> maker.losses(finding, loss -> to.accept(match, loss)));
            }
        }
    }

    private void playDeletes(TableMatch match, ChangeSink sink) {
        if (selfReference(match).isPresent() && !isInCircle(match)) {
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
        if (sources(stage).stream().noneMatch(kind -> findings.mayHave(match, kind))) {
            return;
        }
        boolean parks = stage == Stage.ASIDE || stage == Stage.UPDATES || stage == Stage.DELETES;
        Parking parking = Parking.of(match, selfReference(match).isPresent(), isReferredTo(match));
        if (stage == Stage.ASIDE && parking.isNever()) {
            return;
        }
        if (parks && !parking.isNever()) {
            note(match, parking);
        }
        boolean reversed = stage == Stage.DELETES && selfReference(match).isPresent();
        List<Change> held = new ArrayList<>();
        ChangeMaker maker = new ChangeMaker(match, direction, dialect);
        Consumer<Change> to = reversed ? held::add : hand;
        findings.forEach(
                match,
                parking.isNever() ? sources(stage) : FindingReader.ALL,
                finding -> maker.changes(finding).forEach(change -> {
                    Parking.Steps steps = parking.steps(change);
                    Optional<Change> now =
                            stage == Stage.ASIDE ? steps.aside() : inStage(match, parks ? steps.then() : change, stage);
                    now.ifPresent(to);
                }));
        Collections.reverse(held);
        held.forEach(hand);
        if (rows[0] > 0) {
            sink.endTable(match, stage, rows[0]);
        }
    }

    /** The kinds of findings that a stage's changes come from. */
    private Set<FindingKind> sources(Stage stage) {
        boolean mending = direction == Direction.MEND;
        return switch (stage) {
            case UPDATES -> Set.of(FindingKind.CHANGED);
            case ASIDE -> Set.of(FindingKind.CHANGED, mending ? FindingKind.EXTRA : FindingKind.MISSING);
            case INSERTS -> Set.of(mending ? FindingKind.MISSING : FindingKind.EXTRA);
            case REFERENCES -> Set.of(mending ? FindingKind.MISSING : FindingKind.EXTRA, FindingKind.CHANGED);
            case DELETES, UNREFERENCES -> Set.of(mending ? FindingKind.EXTRA : FindingKind.MISSING);
        };
    }

    private void note(TableMatch match, Parking parking) {
        ChangeMaker maker = new ChangeMaker(match, direction, dialect);
        findings.forEach(match, finding -> maker.changes(finding).forEach(parking::note));
    }

    private Optional<Change> inStage(TableMatch match, Change change, Stage stage) {
        if (change instanceof Change.Update update) {
            return switch (stage) {
                case UPDATES -> some(match, update, f -> !isLate(match, f.column()));
                case REFERENCES -> some(match, update, f -> isLate(match, f.column()));
                default -> Optional.empty();
            };
        }
        if (change instanceof Change.Insert insert) {
            List<Field> late = lateReferences(match, insert.row());
            return switch (stage) {
                case INSERTS -> Optional.of(new Change.Insert(without(insert.row(), late), insert.key()));
                case REFERENCES ->
                    late.isEmpty()
                            ? Optional.empty()
                            : Optional.of(new Change.Update(key(match, insert.row()), none(late), late));
                default -> Optional.empty();
            };
        }
        if (change instanceof Change.Delete delete) {
            List<Field> late = lateReferences(match, delete.row());
            return switch (stage) {
                case DELETES ->
                    Optional.of(
                            new Change.Delete(without(delete.row(), late), delete.keyColumns(), delete.oneOfMany()));
                case UNREFERENCES ->
                    late.isEmpty()
                            ? Optional.empty()
                            : Optional.of(new Change.Update(key(match, delete.row()), late, none(late)));
                default -> Optional.empty();
            };
        }
        throw new IllegalStateException("no stage for " + change);
    }

    /** An update of some of its columns alone; empty where none is left. */
    private static Optional<Change> some(TableMatch match, Change.Update update, Predicate<Field> wanted) {
        List<Field> after = update.after().stream().filter(wanted).toList();
        // A trigger may change other columns in the first of two updates.
        boolean others =
                after.size() == update.after().size() || !match.target().hasTriggers();
        return after.isEmpty()
                ? Optional.empty()
                : Optional.of(new Change.Update(
                        update.key(),
                        update.before().stream().filter(wanted).toList(),
                        after,
                        others ? update.others() : List.of(),
                        !others));
    }

    /** References of a row that are given after, and taken away before, the row itself. */
    private List<Field> lateReferences(TableMatch match, List<Field> row) {
        List<Field> late = new ArrayList<>();
        forwardReference(match, row).ifPresent(late::add);
        row.stream()
                .filter(f -> isLate(match, f.column()) && !(f.value() instanceof Value.Null) && !late.contains(f))
                .forEach(late::add);
        return late;
    }

    /** Whether a column refers to a table that comes later, and may be NULL until then. */
    private boolean isLate(TableMatch match, ColumnShape column) {
        return lateColumns(match).contains(column.name());
    }

    private boolean isInCircle(TableMatch match) {
        return !lateColumns(match).isEmpty();
    }

    private Set<String> lateColumns(TableMatch match) {
        return late.computeIfAbsent(match, m -> {
            Set<String> columns = new HashSet<>();
            List<TableMatch> later = match.wholeRow()
                    ? List.of()
                    : parentsFirst.subList(parentsFirst.indexOf(m) + 1, parentsFirst.size());
            for (ForeignKey key : m.target().foreignKeys()) {
                if (later.stream().anyMatch(l -> isSame(l.target().name(), key.parent()))) {
                    key.columns().stream()
                            .filter(name -> m.keyPairs().stream()
                                    .noneMatch(k -> k.target().name().equals(name)))
                            .filter(name -> m.pairs().stream()
                                    .anyMatch(c -> c.target().name().equals(name)
                                            && c.target().nullable()
                                            && c.target().writable()))
                            .findFirst()
                            .ifPresent(columns::add);
                }
            }
            return columns;
        });
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
        return match.keyPairs().stream().map(p -> field(row, p.target().name())).toList();
    }

    private static List<Field> none(List<Field> fields) {
        return fields.stream().map(f -> new Field(f.column(), Value.NULL)).toList();
    }

    private static List<Field> without(List<Field> row, List<Field> references) {
        return references.isEmpty()
                ? row
                : row.stream()
                        .map(f -> references.contains(f) ? new Field(f.column(), Value.NULL) : f)
                        .toList();
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

    /** Where tables refer to each other in a circle, it is broken at a reference that may be NULL, if there is one. */
    private static List<TableMatch> parentsFirst(List<TableMatch> matches) {
        List<TableMatch> left = new ArrayList<>(matches);
        List<TableMatch> ordered = new ArrayList<>();
        while (!left.isEmpty()) {
            TableMatch next = left.stream()
                    .filter(m -> !waitsFor(m, left, false))
                    .findFirst()
                    .or(() ->
                            left.stream().filter(m -> !waitsFor(m, left, true)).findFirst())
                    .orElse(left.get(0));
            left.remove(next);
            ordered.add(next);
        }
        return List.copyOf(ordered);
    }

    /**
     * Whether a table refers to another of these.
     *
     * @param always whether only references count that must not be NULL
     */
    private static boolean waitsFor(TableMatch match, List<TableMatch> others, boolean always) {
        return match.target().foreignKeys().stream()
                .filter(key -> !always || key.columns().stream().noneMatch(name -> isNullable(match, name)))
                .anyMatch(key -> others.stream()
                        .anyMatch(o -> o != match && isSame(o.target().name(), key.parent())));
    }

    private static boolean isNullable(TableMatch match, String column) {
        return match.target().column(column).filter(ColumnShape::nullable).isPresent();
    }
}
