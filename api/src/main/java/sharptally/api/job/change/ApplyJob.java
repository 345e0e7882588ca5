package sharptally.api.job.change;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.Hint;
import sharptally.core.fault.ToolException;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Endpoint;
import sharptally.core.place.Place;
import sharptally.core.place.part.ChangeSession;
import sharptally.core.place.part.RefusedChange;
import sharptally.core.script.ChangeCounts;
import sharptally.core.script.ChangePlan;
import sharptally.core.script.ChangePreview;
import sharptally.core.script.Direction;
import sharptally.core.script.write.ChangeSql;
import sharptally.core.script.write.ScriptSafeguards;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;
import sharptally.formats.run.AuditLog;

/** Carries chosen findings of a run out against one place: all or none, or so many at a time. */
public final class ApplyJob {
    private static final int ATTEMPTS = 4;

    /** Up to so many changes are made and taken back by their undo before they are made. */
    private static final long MAX_TRIED = 10_000;

    /**
     * How it is done.
     *
     * @param dryRun whether all is taken back at the end
     * @param commitEvery after how many changes those that were made are made lasting; empty for one transaction
     * @param allowNoUndo whether they are made also where the target would refuse to take them back
     * @param caution what is done besides, as in a script
     */
    public record Settings(boolean dryRun, OptionalLong commitEvery, boolean allowNoUndo, ScriptSafeguards caution) {}

    /** Follows the work. */
    public interface Watch {
        /**
         * @param rows changed so far
         */
        void changed(long rows);
    }

    private final TargetChanges mending;
    private final Endpoint target;
    private final Settings manner;
    private final ChangePlan plan;
    /** Whether changes are made one by one, each lasting, as not all could be taken back. */
    private final boolean partial;

    private Optional<ChangePreview.Found> found = Optional.empty();
    private long committed;
    private boolean open;
    private boolean stopped;
    private Optional<Path> undo = Optional.empty();
    private Optional<String> reached = Optional.empty();
    private Optional<String> unrecorded = Optional.empty();

    /**
     * @param target the place that is changed
     * @throws ToolException when it is of another engine than the one that was compared
     */
    public ApplyJob(TargetChanges mending, Endpoint target, Settings manner) {
        this.mending = mending;
        this.target = target;
        this.manner = manner;
        if (!target.engine().name().equals(mending.engine().name())) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "not of the engine that was compared",
                    target.label().toString(),
                    "name a " + mending.engine().name() + " database");
        }
        this.plan = mending.plan(Direction.MEND);
        manner.caution().check(target.dialect(), plan.matches());
        if (manner.caution().withoutTriggers() && target.dialect().triggersOutside()) {
            plan.touched().stream()
                    .map(TableMatch::target)
                    .filter(TableShape::hasTriggers)
                    .findFirst()
                    .ifPresent(table -> {
                        throw new ToolException(
                                ErrorKind.REFUSED,
                                "to turn the triggers of this table off ends a transaction, and a failure would leave them off",
                                table.name().toString(),
                                "write a script, which does so before its transaction and behind it");
                    });
        }
        this.partial = plan.touched().stream().map(TableMatch::target).anyMatch(ScriptSafeguards::isPartial);
        if (partial && manner.dryRun()) {
            throw new ToolException(
                    ErrorKind.REFUSED,
                    "what is done to tables without transactions can't be taken back, so nothing can be tried",
                    target.label().toString(),
                    "write a script, and read it");
        }
    }

    /** What would be changed. */
    public ChangeCounts counts() {
        return found().counts();
    }

    /** What a person must know before confirming, a sentence each. */
    public List<String> warnings() {
        return found().warnings();
    }

    private ChangePreview.Found found() {
        if (found.isEmpty()) {
            found = Optional.of(mending.outlook());
        }
        return found.get();
    }

    /** What a person types to confirm: the last part of the target's address. */
    public String targetName() {
        String location = target.label().location();
        return location.substring(Math.max(location.lastIndexOf('/'), location.lastIndexOf('\\')) + 1);
    }

    /** Whether the connection broke during a commit, so that it has to be found out whether the changes were made. */
    public boolean isOutcomeOpen() {
        return open;
    }

    /** Whether a change was refused before any was made. */
    public boolean wasStopped() {
        return stopped;
    }

    /** What the database did by itself to rows of other tables that refer to deleted ones; empty where it did nothing. */
    public Optional<String> reached() {
        return reached;
    }

    /** The script that takes the changes back, on the disk before any of them was committed; empty for a dry run. */
    public Optional<Path> undo() {
        return undo;
    }

    /**
     * Makes all changes and commits them.
     *
     * @return rows changed
     * @throws ToolException when a table looks different now, a row had moved on, or the target refuses a change; the
     *     message says what was done by then; or when the connection broke, see {@link #isOutcomeOpen}
     */
    public long apply(Watch watch) {
        checkShapes();
        if (!manner.dryRun()) {
            try {
                undo = Optional.of(ScriptJob.undoOfApply(mending, target, counts(), manner.caution()));
            } catch (ToolException e) {
                throw new ToolException(
                        e.kind(),
                        "can't write down what undoes the changes, so nothing was done",
                        e.where() + " (" + e.what() + ")",
                        e.kind() == ErrorKind.INCOMPLETE ? "make room" : e.mend(),
                        e);
            }
        }
        long rows;
        try {
            rows = attempts(watch);
        } catch (ToolException e) {
            if (!open && committed == 0) {
                forgetUndo();
            }
            record(open ? "not known: the connection broke during the commit" : e.what());
            throw e;
        }
        record(manner.dryRun() ? "taken back, as it was a dry run" : "committed");
        return rows;
    }

    /** Why what was done could not be kept in the run; empty where it was. */
    public Optional<String> unrecorded() {
        return unrecorded;
    }

    private void forgetUndo() {
        try {
            for (Path file : undo.stream().toList()) {
                Files.deleteIfExists(file);
            }
            undo = Optional.empty();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private void record(String outcome) {
        Map<String, Object> details = new LinkedHashMap<>();
        details.put("changes", target.label().toString());
        details.put("tables", counts().tables());
        details.put("outcome", outcome);
        details.put("committed", committed);
        undo.ifPresent(file -> {
            details.put("undo", file.toAbsolutePath().toString());
            details.put("undo-sha256", AuditLog.sha256(file));
        });
        try {
            new AuditLog(mending.run(), mending.clock()).add(manner.dryRun() ? "apply --dry-run" : "apply", details);
        } catch (ToolException e) {
            // What became of the changes matters more.
            unrecorded = Optional.of(e.what() + ": " + e.where());
        }
    }

    private long attempts(Watch watch) {
        for (int attempt = 1; ; attempt++) {
            try (ChangeSession session = target.openForChanges()) {
                if (committed == 0 && isUndoTried()) {
                    new Attempt(session, rows -> {}, 0).tryUndo();
                }
                return new Attempt(session, watch, committed).run();
            } catch (RefusedChange e) {
                if (!e.mayBeTriedAgain() || attempt == ATTEMPTS) {
                    throw told(e.failure(), e.failure().what(), e.failure().where());
                }
            }
        }
    }

    /** Whether it is found out beforehand that the target takes the undo: triggers would run once more for that. */
    public boolean isUndoTried() {
        return !manner.allowNoUndo()
                && target.dialect().takesBackAtOnce()
                && counts().all() <= MAX_TRIED
                && plan.touched().stream()
                        .map(TableMatch::target)
                        .allMatch(t -> t.sideEffects().transactional()
                                && (manner.caution().withoutTriggers() || !t.hasTriggers()));
    }

    private ToolException told(ToolException e, String what, String where) {
        stopped = committed == 0;
        String done = committed == 0
                ? ", so nothing was done"
                : "; " + committed + " changes were committed before, the others were not made";
        return committed == 0
                ? e.toldAs(what + done, where)
                : new ToolException(e.kind(), what + done, where, "recheck the run, then apply the rest", e);
    }

    /** One go through the plan, behind the changes that were committed by an earlier one. */
    private final class Attempt implements ChangePackages.Owner {
        private final ChangeSession session;
        private final Watch watch;
        private final long before;
        private long done;
        private boolean trying;

        Attempt(ChangeSession session, Watch watch, long before) {
            this.session = session;
            this.watch = watch;
            this.before = before;
            this.done = before;
        }

        private ChangePackages packages() {
            ScriptSafeguards caution = manner.caution();
            ChangeSql sql = new ChangeSql(
                    target.dialect(), true, caution.narrowGuards(), caution.allowCascade(), Optional.empty());
            return new ChangePackages(session, sql, plan, caution, before, partial, this);
        }

        @Override
        public void made(long changes) {
            done += changes;
            watch.changed(done);
            if (!manner.dryRun()
                    && !trying
                    && (partial
                            || manner.commitEvery().isPresent()
                                    && done - committed >= manner.commitEvery().getAsLong())) {
                commit();
                manner.caution().holdStill(target.dialect(), plan).forEach(this::plain);
            }
        }

        @Override
        public ToolException failed(ToolException e, String what, String where) {
            return told(e, what, where);
        }

        /** Makes the changes, takes them back by their undo, and forgets both. */
        void tryUndo() {
            trying = true;
            ScriptSafeguards caution = manner.caution().withoutKeeping();
            caution.before(target.dialect(), plan).forEach(this::plain);
            ChangePackages packages = packages();
            plan.play(packages);
            ChangePlan undoing = mending.plan(Direction.UNDO);
            try {
                undoing.play(packages);
                target.dialect().checkReferences().forEach(this::plain);
            } catch (ToolException e) {
                stopped = false;
                throw new ToolException(
                        ErrorKind.REFUSED,
                        "the target would not let these changes be taken back (" + cause(e) + "), so nothing was done",
                        e.where(),
                        Hint.ALLOW_NO_UNDO,
                        e);
            } finally {
                done = 0;
                session.rollback();
            }
        }

        /** What was refused, without what that meant for the changes. */
        private static String cause(ToolException failure) {
            return failure.getCause() instanceof ToolException first ? first.what() : failure.what();
        }

        long run() {
            ScriptSafeguards caution = manner.caution();
            // Rows that an earlier attempt committed are not as they were any more.
            (before == 0 ? caution : caution.withoutKeeping())
                    .before(target.dialect(), plan)
                    .forEach(this::plain);
            ChangePackages packages = packages();
            plan.play(packages);
            // Else a commit would check them, and a dry run has none.
            target.dialect().checkReferences().forEach(this::plain);
            caution.after(target.dialect(), plan).forEach(this::plain);
            reached = packages.reached();
            if (manner.dryRun()) {
                session.rollback();
            } else {
                commit();
            }
            return done;
        }

        private void plain(String statement) {
            try {
                session.set(statement);
            } catch (RefusedChange e) {
                throw e.mayBeTriedAgain()
                        ? e
                        : told(e.failure(), e.failure().what(), e.failure().where());
            }
        }

        private void commit() {
            try {
                session.commit();
            } catch (ToolException e) {
                if (e.kind() == ErrorKind.BROKEN) {
                    open = true;
                    throw e;
                }
                throw told(e, e.what(), e.where());
            }
            committed = done;
        }
    }

    private void checkShapes() {
        try (Place place = target.open()) {
            for (TableMatch match : plan.matches()) {
                var now = place.describe(match.target().name().toString());
                List<String> computed = match.target().columns().stream()
                        .filter(c -> c.expression().isPresent())
                        .map(ColumnShape::name)
                        .toList();
                if (!without(now.columns(), computed)
                        .equals(without(match.target().columns(), computed))) {
                    throw new ToolException(
                            ErrorKind.REFUSED,
                            "the table's columns are not what they were when it was compared, so nothing was done",
                            target.label()
                                    .withTable(match.target().name().toString())
                                    .toString(),
                            "compare again");
                }
            }
        }
    }

    private static List<ColumnShape> without(List<ColumnShape> columns, List<String> names) {
        return columns.stream().filter(c -> !names.contains(c.name())).toList();
    }
}
