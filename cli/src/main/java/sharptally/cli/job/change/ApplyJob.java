package sharptally.cli.job.change;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.match.TableMatch;
import sharptally.core.place.ChangeSession;
import sharptally.core.place.Engine;
import sharptally.core.place.Place;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.RefusedChange;
import sharptally.core.script.Change;
import sharptally.core.script.Change.Field;
import sharptally.core.script.ChangeCounts;
import sharptally.core.script.ChangePlan;
import sharptally.core.script.ChangePreview;
import sharptally.core.script.ChangeSink;
import sharptally.core.script.Direction;
import sharptally.core.script.write.ChangeSql;
import sharptally.core.script.write.ScriptSafeguards;
import sharptally.core.shape.ColumnShape;
import sharptally.core.sql.SqlText;
import sharptally.core.types.Value;
import sharptally.engines.Engines;
import sharptally.formats.run.AuditLog;

/** Carries chosen findings of a run out against one place: all or none, or so many at a time. */
public final class ApplyJob {
    private static final int CHANGES_AT_ONCE = 400;
    private static final int MAX_SMALL = 5_000;
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
    private final PlaceAccess target;
    private final Settings manner;
    private final Engine engine;
    private final ChangePlan plan;
    private Optional<ChangePreview.Found> found = Optional.empty();
    private long committed;
    private boolean open;
    private boolean stopped;
    private Optional<Path> undo = Optional.empty();
    private Optional<String> reached = Optional.empty();

    /**
     * @param target the place that is changed
     * @throws ToolException when it is of another engine than the one that was compared
     */
    public ApplyJob(TargetChanges mending, PlaceAccess target, Settings manner) {
        this.mending = mending;
        this.target = target;
        this.manner = manner;
        this.engine = Engines.of(target.address());
        if (!engine.name().equals(mending.engine().name())) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "not of the engine that was compared",
                    target.label().toString(),
                    "name a " + mending.engine().name() + " place");
        }
        this.plan = mending.plan(Direction.MEND);
        manner.caution().check(engine.dialect(), plan.matches());
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
        String outcome = "failed";
        if (!manner.dryRun()) {
            undo = Optional.of(ScriptJob.undoOfApply(mending, target, counts(), manner.caution()));
        }
        try {
            long rows = attempts(watch);
            outcome = manner.dryRun() ? "taken back, as it was a dry run" : "committed";
            return rows;
        } catch (ToolException e) {
            outcome = open ? "not known: the connection broke during the commit" : e.what();
            if (!open && committed == 0) {
                forgetUndo();
            }
            throw e;
        } finally {
            record(outcome);
        }
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
        new AuditLog(mending.run()).add(manner.dryRun() ? "apply --dry-run" : "apply", details);
    }

    private long attempts(Watch watch) {
        for (int attempt = 1; ; attempt++) {
            try (ChangeSession session = engine.openForChanges(target)) {
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
                && engine.dialect().takesBackAtOnce()
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
        String mend = committed == 0 ? e.mend() : "recheck the run, then apply the rest";
        return new ToolException(e.kind(), what + done, where, mend, e);
    }

    /** One go through the plan, behind the changes that were committed by an earlier one. */
    private final class Attempt implements ChangeSink {
        private final ChangeSession session;
        private final Watch watch;
        private final ChangeSql sql = new ChangeSql(
                engine.dialect(),
                true,
                manner.caution().narrowGuards(),
                manner.caution().allowCascade(),
                Optional.empty());
        private final List<Change> waiting = new ArrayList<>();
        private final ReachedRows reaching;
        private long toSkip;
        private long done;
        private boolean trying;

        Attempt(ChangeSession session, Watch watch, long toSkip) {
            this.session = session;
            this.reaching = new ReachedRows(session, sql);
            this.watch = watch;
            this.toSkip = toSkip;
            this.done = toSkip;
        }

        /** Makes the changes, takes them back by their undo, and forgets both. */
        void tryUndo() {
            trying = true;
            ScriptSafeguards caution = manner.caution().withoutKeeping();
            caution.before(engine.dialect(), plan).forEach(this::plain);
            plan.play(this);
            ChangePlan undoing = mending.plan(Direction.UNDO);
            try {
                undoing.play(this);
                engine.dialect().checkReferences().forEach(this::plain);
            } catch (ToolException e) {
                stopped = false;
                throw new ToolException(
                        ErrorKind.REFUSED,
                        "the target would not let these changes be taken back ("
                                + e.what().replace(", so nothing was done", "") + "), so nothing was done",
                        e.where(),
                        "it holds what its own constraints refuse; --allow-no-undo makes them all the same",
                        e);
            } finally {
                done = 0;
                session.rollback();
            }
        }

        long run() {
            ScriptSafeguards caution = manner.caution();
            // Rows that an earlier attempt committed are not as they were any more.
            (toSkip == 0 ? caution : caution.withoutKeeping())
                    .before(engine.dialect(), plan)
                    .forEach(this::plain);
            plan.play(this);
            caution.after(engine.dialect(), plan).forEach(this::plain);
            reached = reaching.told();
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

        @Override
        public void beginTable(TableMatch match, Stage stage) {
            waiting.clear();
        }

        @Override
        public void change(TableMatch match, Change change) {
            if (toSkip > 0) {
                toSkip--;
                return;
            }
            waiting.add(change);
            if (waiting.size() == CHANGES_AT_ONCE) {
                flush(match);
            }
        }

        @Override
        public void endTable(TableMatch match, Stage stage, long rows) {
            flush(match);
        }

        private void flush(TableMatch match) {
            if (manner.caution().allowCascade() && !trying) {
                reaching.add(match, waiting);
            }
            Map<Optional<List<String>>, List<Change>> shapes = waiting.stream()
                    .collect(Collectors.groupingBy(c -> shape(match, c), LinkedHashMap::new, Collectors.toList()));
            if (match.target().refersToItself() && shapes.size() > 1) {
                // Their order matters: a row may refer to one that stands before it.
                shapes.clear();
                shapes.put(Optional.empty(), List.copyOf(waiting));
            }
            shapes.forEach((shape, changes) -> {
                if (shape.isEmpty() || changes.size() == 1 || !together(match, changes)) {
                    oneByOne(match, changes);
                }
            });
            done += waiting.size();
            waiting.clear();
            watch.changed(done);
            if (!manner.dryRun()
                    && !trying
                    && manner.commitEvery().isPresent()
                    && done - committed >= manner.commitEvery().getAsLong()) {
                commit();
                manner.caution().holdStill(engine.dialect(), plan).forEach(this::plain);
            }
        }

        /** What changes must have in common to be made by one statement; empty for those that are made alone. */
        private Optional<List<String>> shape(TableMatch match, Change change) {
            return engine.dialect().isFasterTogether() && isSmall(change)
                    ? sql.shape(match.target(), change)
                    : Optional.empty();
        }

        private boolean together(TableMatch match, List<Change> changes) {
            String text = sql.together(match.target(), changes);
            try {
                return session.executeTogether(new SqlText.Builder().text(text).build(), changes.size());
            } catch (RefusedChange e) {
                throw e.mayBeTriedAgain()
                        ? e
                        : told(e.failure(), e.failure().what(), e.failure().where());
            }
        }

        private void oneByOne(TableMatch match, List<Change> changes) {
            long[] touched = execute(match, changes);
            for (int i = 0; i < touched.length; i++) {
                if (touched[i] != 1) {
                    stopWhereOthersRefer(match, changes.get(i));
                    throw told(
                            new ToolException(ErrorKind.REFUSED, "", "", "recheck, or compare again"),
                            "a row had changed since it was compared (" + touched[i] + " rows found instead of 1)",
                            where(match, changes.get(i)));
                }
            }
        }

        /** Says so where a row was not deleted because the database would do something to others then. */
        private void stopWhereOthersRefer(TableMatch match, Change change) {
            if (!(change instanceof Change.Delete) || manner.caution().allowCascade()) {
                return;
            }
            ReachedRows refers = new ReachedRows(session, sql);
            refers.add(match, List.of(change));
            if (refers.told().isPresent()) {
                ReachedRows all = new ReachedRows(session, sql);
                all.addAll(plan, match);
                throw told(
                        new ToolException(
                                ErrorKind.REFUSED,
                                "",
                                "",
                                "choose those rows too, or give --allow-cascade: no undo brings them back then"),
                        "rows refer to some that are to be deleted, and the database would act on them by itself ("
                                + all.told().orElseThrow() + ")",
                        where(match, change));
            }
        }

        private long[] execute(TableMatch match, List<Change> changes) {
            try {
                return session.execute(changes.stream()
                        .map(c -> sql.statement(match.target(), c))
                        .toList());
            } catch (RefusedChange e) {
                if (e.mayBeTriedAgain()) {
                    throw e;
                }
                ToolException failure = e.failure();
                throw told(
                        failure,
                        failure.what(),
                        e.index() < 0
                                ? failure.where()
                                : where(match, changes.get(e.index())) + ": " + failure.where());
            }
        }
    }

    private static boolean isSmall(Change change) {
        Stream<Field> fields = change instanceof Change.Insert insert
                ? insert.row().stream()
                : change instanceof Change.Update update
                        ? Stream.of(update.before(), update.after(), update.others())
                                .flatMap(List::stream)
                        : ((Change.Delete) change).row().stream();
        return fields.map(Field::value)
                .allMatch(v -> !(v instanceof Value.Text text && text.value().length() > MAX_SMALL)
                        && !(v instanceof Value.Bytes bytes && bytes.value().length > MAX_SMALL));
    }

    private void checkShapes() {
        try (Place place = engine.open(target)) {
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

    /** The row by its key alone; other values are not shown. */
    private static String where(TableMatch match, Change change) {
        return match.target().name() + " [" + ChangePreview.key(match, change) + "]";
    }
}
