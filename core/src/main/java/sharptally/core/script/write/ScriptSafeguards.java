package sharptally.core.script.write;

import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.Hint;
import sharptally.core.fault.ToolException;
import sharptally.core.match.TableMatch;
import sharptally.core.script.ChangePlan;
import sharptally.core.shape.TableShape;
import sharptally.core.sql.SqlDialect;

/**
 * What is done around changes, by a script or directly.
 *
 * @param withoutTriggers whether triggers are kept from running
 * @param keepAs the end of the names of tables in which touched rows are kept as they were; empty where they are not
 * @param narrowGuards whether a row is updated also where compared columns that are not changed hold something else by now
 * @param allowCascade whether rows are deleted also where the database then deletes or changes rows of other tables, which
 *     no undo brings back
 * @param allowPartial whether tables are changed that are not transactional, in which what was done before a failure stays
 * @param lockWait how long to wait for a lock; empty for as long as the session does anyway
 */
public record ScriptSafeguards(
        boolean withoutTriggers,
        boolean narrowGuards,
        boolean allowCascade,
        boolean allowPartial,
        Optional<String> keepAs,
        Optional<Duration> lockWait) {
    public static final ScriptSafeguards NONE =
            new ScriptSafeguards(false, false, false, false, Optional.empty(), Optional.empty());

    /** Tables are changed that are not transactional, and nothing else is done. */
    public static final ScriptSafeguards PARTIAL =
            new ScriptSafeguards(false, false, false, true, Optional.empty(), Optional.empty());

    /**
     * @throws ToolException when a table is not transactional, has triggers that its engine can't keep from running, or a
     *     name that is too long for that of a table of kept rows
     */
    public void check(SqlDialect dialect, List<TableMatch> matches) {
        matches.stream()
                .map(TableMatch::target)
                .filter(t -> !allowPartial && isPartial(t))
                .findFirst()
                .ifPresent(t -> {
                    throw new ToolException(
                            ErrorKind.REFUSED,
                            "this table is of an engine without transactions: what is done before a failure would stay",
                            t.name().toString(),
                            Hint.ALLOW_PARTIAL);
                });
        kept(dialect).ifPresent(kept -> matches.forEach(match -> kept.check(match.target())));
        if (!withoutTriggers) {
            return;
        }
        matches.stream()
                .map(TableMatch::target)
                .filter(t -> t.hasTriggers() && dialect.triggersOff(t).isEmpty())
                .findFirst()
                .ifPresent(t -> {
                    throw new ToolException(
                            ErrorKind.REFUSED,
                            "the triggers of this table can't be kept from running by its engine",
                            t.name().toString(),
                            Hint.TRIGGERS_BY_HAND);
                });
    }

    /** Whether what was done to a table before a failure stays, as its engine takes nothing back. */
    public static boolean isPartial(TableShape table) {
        return !table.sideEffects().transactional();
    }

    /** The same, but that no rows are kept. */
    public ScriptSafeguards withoutKeeping() {
        return new ScriptSafeguards(
                withoutTriggers, narrowGuards, allowCascade, allowPartial, Optional.empty(), lockWait);
    }

    /** Statements, without end marks, before the transaction: kept rows outlive nothing that is taken back. */
    List<String> beforeTransaction(SqlDialect dialect, ChangePlan plan) {
        List<String> statements = new ArrayList<>();
        kept(dialect).ifPresent(kept -> plan.touched().forEach(match -> statements.add(kept.create(match.target()))));
        if (dialect.triggersOutside()) {
            statements.addAll(triggers(plan, dialect::triggersOff));
        }
        return statements;
    }

    /** Statements, without end marks, behind the transaction. */
    List<String> behindTransaction(SqlDialect dialect, ChangePlan plan) {
        return dialect.triggersOutside() ? triggers(plan, dialect::triggersOn) : List.of();
    }

    /** Statements, without end marks, at the start of the transaction. */
    List<String> atStart(SqlDialect dialect, ChangePlan plan) {
        List<String> statements = new ArrayList<>(dialect.deferReferences());
        if (!dialect.triggersOutside()) {
            statements.addAll(triggers(plan, dialect::triggersOff));
        }
        return statements;
    }

    /** Statements, without end marks, at the start of a transaction with guards. */
    public List<String> holdStill(SqlDialect dialect, ChangePlan plan) {
        return plan.lookedThrough(allowCascade).stream()
                .flatMap(table -> dialect.holdStill(table).stream())
                .toList();
    }

    /** Where touched rows are kept, if they are. */
    Optional<KeptRows> kept(SqlDialect dialect) {
        return keepAs.map(end -> new KeptRows(dialect, end));
    }

    /** All statements, without end marks, before the changes. */
    public List<String> before(SqlDialect dialect, ChangePlan plan) {
        List<String> statements = new ArrayList<>();
        lockWait.ifPresent(time -> statements.addAll(dialect.lockWait(time)));
        statements.addAll(beforeTransaction(dialect, plan));
        statements.addAll(atStart(dialect, plan));
        statements.addAll(holdStill(dialect, plan));
        kept(dialect).ifPresent(kept -> kept.play(plan, Optional.empty(), statements::add));
        return statements;
    }

    /** Statements, without end marks, behind the changes, in their transaction. */
    public List<String> after(SqlDialect dialect, ChangePlan plan) {
        return dialect.triggersOutside() ? List.of() : triggers(plan, dialect::triggersOn);
    }

    private List<String> triggers(ChangePlan plan, Function<TableShape, List<String>> statements) {
        return withoutTriggers
                ? plan.touched().stream()
                        .map(TableMatch::target)
                        .filter(TableShape::hasTriggers)
                        .flatMap(table -> statements.apply(table).stream())
                        .toList()
                : List.of();
    }
}
