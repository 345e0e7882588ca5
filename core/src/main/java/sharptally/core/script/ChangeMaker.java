package sharptally.core.script;

import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;
import java.util.function.Consumer;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.finding.Difference;
import sharptally.core.finding.Finding;
import sharptally.core.match.ColumnPair;
import sharptally.core.match.TableMatch;
import sharptally.core.rows.Cast;
import sharptally.core.rows.Column;
import sharptally.core.rule.RuleSet;
import sharptally.core.script.Change.Field;
import sharptally.core.script.fit.Fit;
import sharptally.core.script.fit.Loss;
import sharptally.core.shape.ColumnShape;
import sharptally.core.sql.SqlDialect;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;

/** Turns findings of one match into changes of the target: those that mend it, or those that take the mending back. */
final class ChangeMaker {
    private static final Set<Kind> TOLD =
            EnumSet.of(Kind.BOOLEAN, Kind.INTEGER, Kind.TEXT, Kind.BYTES, Kind.DATE, Kind.UUID, Kind.BITS);

    private final TableMatch match;
    private final Direction direction;
    private final SqlDialect dialect;
    private final List<RuleSet> ruleSets;
    private final List<ColumnShape> targetKey;
    private final boolean heldUnique;

    ChangeMaker(TableMatch match, Direction direction, SqlDialect dialect) {
        this.match = match;
        this.direction = direction;
        this.dialect = dialect;
        this.ruleSets = match.pairs().stream().map(ColumnPair::toRuleSet).toList();
        this.targetKey = match.keyPairs().stream().map(ColumnPair::target).toList();
        this.heldUnique = match.target()
                .holdsUnique(targetKey.stream().map(ColumnShape::name).toList());
    }

    /** The changes for one finding, as many as rows are to be touched; none where nothing can be written. */
    Stream<Change> changes(Finding finding) {
        if (finding instanceof Finding.Missing missing) {
            List<Field> row = fromSource(missing.row());
            return repeat(missing.times(), mending() ? insert(row, missing.among()) : delete(row, missing.among()));
        }
        if (finding instanceof Finding.Extra extra) {
            List<Field> row = fromTarget(extra.row());
            return repeat(extra.times(), mending() ? delete(row, extra.among()) : insert(row, extra.among()));
        }
        if (finding instanceof Finding.Changed changed) {
            return update(changed).stream();
        }
        return Stream.empty();
    }

    /** Hands on what tells afterwards that a finding's change was made; nothing where it makes none. */
    void mark(Finding finding, Consumer<Mark> to) {
        if (finding instanceof Finding.Changed changed) {
            update(changed).map(Change.Update.class::cast).map(this::mark).ifPresent(to);
        } else if (finding instanceof Finding.Missing missing) {
            List<Field> row = fromSource(missing.row());
            to.accept(mark(row, mending(), missing.times(), missing.among(), missing.both()));
        } else if (finding instanceof Finding.Extra extra) {
            List<Field> row = fromTarget(extra.row());
            to.accept(mark(row, !mending(), extra.times(), extra.among(), extra.both()));
        }
    }

    private Mark mark(Change.Update update) {
        boolean told = update.after().stream().allMatch(ChangeMaker::isTold);
        List<Field> held =
                Stream.concat(update.key().stream(), update.after().stream()).toList();
        return isOneRow(update.key())
                ? new Mark(1, true, held, told ? List.of() : update.before(), OptionalLong.empty())
                : Mark.untold(1);
    }

    private Mark mark(List<Field> row, boolean inserted, long times, boolean among, OptionalLong both) {
        List<Field> writable = row.stream().filter(f -> f.column().writable()).toList();
        if (match.wholeRow()) {
            boolean exact = ruleSets.stream().noneMatch(RuleSet::translates)
                    && match.pairs().stream().allMatch(p -> p.rules().isEmpty())
                    && row.stream().allMatch(ChangeMaker::isTold);
            return exact && both.isPresent()
                    ? new Mark(
                            times,
                            true,
                            writable,
                            List.of(),
                            OptionalLong.of(both.getAsLong() + (inserted ? times : 0)))
                    : Mark.untold(times);
        }
        return isOneRow(keyFields(row)) && !among
                ? new Mark(1, inserted, inserted ? writable : keyFields(row), List.of(), OptionalLong.empty())
                : Mark.untold(times);
    }

    /** Whether at most one row can have this key: where a part of it is NULL, unique keys let in several. */
    private boolean isOneRow(List<Field> key) {
        return heldUnique && key.stream().noneMatch(f -> f.value() instanceof Value.Null);
    }

    /** Whether no two values of such a column that differ are the same to the engine. */
    private static boolean isTold(Field field) {
        return TOLD.contains(field.column().type().orElseThrow().kind());
    }

    /** What of a finding can't be carried over as it is. */
    void losses(Finding finding, Consumer<Loss> to) {
        if (!mending()) {
            return;
        }
        if (finding instanceof Finding.Missing missing) {
            for (int i = 0; i < match.pairs().size(); i++) {
                ColumnShape column = match.pairs().get(i).target();
                if (column.writable() && fitted(i, missing.row().get(i)).isPresent()) {
                    to.accept(new Loss(column, Loss.Way.ROUNDED, keyFields(fromSource(missing.row()))));
                }
            }
        } else if (finding instanceof Finding.Changed changed) {
            boolean writes = changed.differences().stream()
                    .anyMatch(d -> match.pairs().get(d.pair()).target().writable());
            for (Difference difference : changed.differences()) {
                ColumnShape column = match.pairs().get(difference.pair()).target();
                Optional<Value> fitted =
                        column.writable() ? fitted(difference.pair(), difference.source()) : Optional.empty();
                if (!column.writable()) {
                    // What the database computes may well follow from what else is changed in the row.
                    if (column.expression().isPresent() || !writes) {
                        to.accept(new Loss(column, Loss.Way.COMPUTED, targetKey(changed)));
                    }
                } else if (fitted.isPresent()) {
                    boolean held = isSame(fitted.get(), difference.target());
                    to.accept(new Loss(column, held ? Loss.Way.NEAREST : Loss.Way.ROUNDED, targetKey(changed)));
                }
            }
        }
    }

    /** Whether {@link #losses} may give something. */
    static boolean mayLose(TableMatch match) {
        return match.pairs().stream()
                .anyMatch(p -> !p.target().writable()
                        || Fit.mayRound(p.target())
                                && !(p.source().type().equals(p.target().type())
                                        && p.source()
                                                .declaredType()
                                                .equalsIgnoreCase(p.target().declaredType())));
    }

    /** What the target makes of a value of the source that it can't hold exactly. */
    private Optional<Value> fitted(int pair, Value read) {
        return dialect.holdsAnyValue() || !dialect.tellsDigits()
                ? Optional.empty()
                : Fit.rounded(match.pairs().get(pair).target(), inTerms(pair, read));
    }

    private static boolean isSame(Value one, Value other) {
        return one instanceof Value.Decimal d && other instanceof Value.Decimal e
                ? d.value().compareTo(e.value()) == 0
                : one.equals(other);
    }

    private boolean mending() {
        return direction == Direction.MEND;
    }

    private static Stream<Change> repeat(long times, Change change) {
        return Stream.generate(() -> change).limit(times);
    }

    private List<Field> fromSource(List<Value> row) {
        return IntStream.range(0, row.size())
                .mapToObj(i -> new Field(match.pairs().get(i).target(), toTarget(i, row.get(i))))
                .toList();
    }

    private List<Field> fromTarget(List<Value> row) {
        var columns = match.targetColumns();
        return IntStream.range(0, row.size())
                .mapToObj(i -> new Field(columns.get(i), row.get(i)))
                .toList();
    }

    private Change insert(List<Field> row, boolean among) {
        List<Field> writable = row.stream().filter(f -> f.column().writable()).toList();
        boolean unguarded = among || match.wholeRow() || heldUnique;
        return new Change.Insert(writable, unguarded ? List.of() : keyFields(row));
    }

    private Change delete(List<Field> row, boolean among) {
        List<Field> keyFirst = new ArrayList<>(keyFields(row));
        row.stream()
                .filter(f -> !keyFirst.contains(f) && f.column().expression().isEmpty())
                .forEach(keyFirst::add);
        boolean held = !match.wholeRow() && heldUnique;
        return new Change.Delete(keyFirst, match.key().size(), among || !held);
    }

    private List<Field> keyFields(List<Field> row) {
        return match.key().stream().map(row::get).toList();
    }

    private Optional<Change> update(Finding.Changed changed) {
        List<Field> key = targetKey(changed);
        List<Field> ofTarget = new ArrayList<>();
        List<Field> ofSource = new ArrayList<>();
        for (Difference difference : changed.differences()) {
            ColumnPair pair = match.pairs().get(difference.pair());
            boolean stays = !pair.target().writable()
                    || fitted(difference.pair(), difference.source())
                            .filter(v -> isSame(v, difference.target()))
                            .isPresent();
            if (!stays) {
                ofTarget.add(new Field(pair.target(), difference.target()));
                ofSource.add(new Field(pair.target(), toTarget(difference.pair(), difference.source())));
            }
        }
        if (ofTarget.isEmpty()) {
            return Optional.empty();
        }
        return Optional.of(
                mending()
                        ? new Change.Update(key, ofTarget, ofSource, others(changed), false)
                        : new Change.Update(key, ofSource, ofTarget, others(changed), false));
    }

    private List<Field> targetKey(Finding.Changed changed) {
        return IntStream.range(0, targetKey.size())
                .mapToObj(i -> new Field(targetKey.get(i), changed.targetKey().get(i)))
                .toList();
    }

    /** What else the row held. Triggers may have changed that along with a row that was mended. */
    private List<Field> others(Finding.Changed changed) {
        return !mending() && match.target().hasTriggers()
                ? List.of()
                : changed.same().stream()
                        .map(d -> new Field(match.pairs().get(d.pair()).target(), d.target()))
                        .filter(f -> f.column().expression().isEmpty())
                        .toList();
    }

    private Value translated(ColumnPair columns, RuleSet rules, Value read) {
        Column cell = new Column(1);
        cell.add(read);
        Kind kind = columns.target().type().orElseThrow().kind();
        Value value = rules.toTarget(columns.sourceCast().apply(cell).value(0), kind);
        if (rules.isToBeWritten(value, kind)) {
            throw new ToolException(
                    ErrorKind.REFUSED,
                    "the form in which this column is written can't tell a value of the source",
                    match.name() + "." + columns.source().name() + " " + value,
                    "leave out the row or the column, or change the rule");
        }
        Column told = new Column(1);
        told.add(value);
        return new Cast(CanonicalType.of(columns.comparedAs()), kind)
                .apply(told)
                .value(0);
    }

    /** A source value as the target will hold it; as it is where the target does not take it. */
    private Value toTarget(int pair, Value read) {
        Value value = fitted(pair, read).orElseGet(() -> inTerms(pair, read));
        return dialect.holdsAnyValue() || !dialect.tellsDigits()
                ? value
                : Fit.floating(match.pairs().get(pair).target(), value);
    }

    /** A source value in terms of the target's type; as it is where it has no faithful form there. */
    private Value inTerms(int pair, Value read) {
        ColumnPair columns = match.pairs().get(pair);
        RuleSet rules = ruleSets.get(pair);
        if (rules.translates()) {
            return translated(columns, rules, read);
        }
        Value value = read;
        if (value instanceof Value.BrokenText && !dialect.holdsAnyValue()) {
            throw new ToolException(
                    ErrorKind.REFUSED,
                    "a text of the source is not valid UTF-8, and this target can't hold it as it is",
                    match.name() + "." + columns.source().name(),
                    "fix it in the source, or leave out the rows or the column");
        }
        var from = columns.source().type().orElseThrow();
        var to = columns.target().type().orElseThrow();
        if (dialect.holdsAnyValue() && !from.padded() && !from.isWritten()) {
            return value;
        }
        if (to.kind() == Kind.JSON) {
            // As it is written in the source: the common form is for comparing alone.
            return value instanceof Value.Text text ? new Value.Other("json", text.value()) : value;
        }
        if (to.kind() == Kind.TEXT && !(value instanceof Value.Text) && !(value instanceof Value.BrokenText)) {
            return value instanceof Value.Null ? value : new Value.Text(value.toString());
        }
        Column cell = new Column(1);
        cell.add(value);
        return new Cast(from, to.kind()).apply(cell).value(0);
    }
}
