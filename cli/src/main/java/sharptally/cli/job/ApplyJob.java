package sharptally.cli.job;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.match.TableMatch;
import sharptally.core.place.ChangeSession;
import sharptally.core.place.Engine;
import sharptally.core.place.Place;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.RefusedChange;
import sharptally.core.script.Change;
import sharptally.core.script.ChangeCounts;
import sharptally.core.script.ChangePlan;
import sharptally.core.script.ChangeSink;
import sharptally.core.script.ChangeSql;
import sharptally.core.script.Direction;
import sharptally.core.script.Outlook;
import sharptally.core.shape.ColumnShape;
import sharptally.core.sql.SqlText;
import sharptally.engines.Engines;
import sharptally.formats.run.AuditLog;

/** Carries chosen findings of a run out against one place: all or none, or so many at a time. */
public final class ApplyJob {
    private static final int CHANGES_AT_ONCE = 500;
    private static final int ATTEMPTS = 4;

    /**
     * How it is done.
     *
     * @param dryRun whether all is taken back at the end
     * @param commitEvery after how many changes those that were made are made lasting; empty for one transaction
     */
    public record Manner(boolean dryRun, OptionalLong commitEvery) {}

    /** Follows the work. */
    public interface Watch {
        void changed(long rows);
    }

    private final Mending mending;
    private final PlaceAccess target;
    private final Manner manner;
    private final Engine engine;
    private final ChangePlan plan;
    private Optional<Outlook.Found> found = Optional.empty();
    private long committed;

    /**
     * @param target the place that is changed
     * @throws ToolException when it is of another engine than the one that was compared
     */
    public ApplyJob(Mending mending, PlaceAccess target, Manner manner) {
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
    }

    /** What would be changed. */
    public ChangeCounts counts() {
        return found().counts();
    }

    /** What a person must know before confirming, a sentence each. */
    public List<String> warnings() {
        return found().warnings();
    }

    private Outlook.Found found() {
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

    /**
     * Makes all changes and commits them.
     *
     * @return rows changed
     * @throws ToolException when a table looks different now, a row had moved on, or the target refuses a change; the
     *     message says what was done by then. As {@code BROKEN} when the connection broke during the commit, so that the
     *     outcome has to be found out
     */
    public long apply(Watch watch) {
        checkShapes();
        String outcome = "failed";
        try {
            long rows = attempts(watch);
            outcome = manner.dryRun() ? "taken back, as it was a dry run" : "committed";
            return rows;
        } catch (ToolException e) {
            outcome = e.kind() == ErrorKind.BROKEN ? "not known: the connection broke during the commit" : e.what();
            throw e;
        } finally {
            record(outcome);
        }
    }

    private void record(String outcome) {
        Map<String, Object> details = new LinkedHashMap<>();
        details.put("changes", target.label().toString());
        details.put("tables", counts().tables());
        details.put("outcome", outcome);
        details.put("committed", committed);
        new AuditLog(mending.run()).add(manner.dryRun() ? "apply --dry-run" : "apply", details);
    }

    private long attempts(Watch watch) {
        for (int attempt = 1; ; attempt++) {
            try (ChangeSession session = engine.openForChanges(target)) {
                return new Attempt(session, watch, committed).run();
            } catch (RefusedChange e) {
                if (!e.mayBeTriedAgain() || attempt == ATTEMPTS) {
                    throw told(e.failure(), e.failure().what(), e.failure().where());
                }
            }
        }
    }

    private ToolException told(ToolException e, String what, String where) {
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
        private final ChangeSql sql = new ChangeSql(engine.dialect(), true);
        private final List<Change> waiting = new ArrayList<>();
        private long toSkip;
        private long done;

        Attempt(ChangeSession session, Watch watch, long toSkip) {
            this.session = session;
            this.watch = watch;
            this.toSkip = toSkip;
            this.done = toSkip;
        }

        long run() {
            plan.play(this);
            if (manner.dryRun()) {
                session.rollback();
            } else {
                commit();
            }
            return done;
        }

        private void commit() {
            try {
                session.commit();
            } catch (ToolException e) {
                throw e.kind() == ErrorKind.BROKEN ? e : told(e, e.what(), e.where());
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
            List<SqlText> statements =
                    waiting.stream().map(c -> sql.statement(match.target(), c)).toList();
            long[] touched = execute(match, statements);
            for (int i = 0; i < touched.length; i++) {
                if (touched[i] != 1) {
                    throw told(
                            new ToolException(ErrorKind.REFUSED, "", "", "recheck, or compare again"),
                            "a row had changed since it was compared (" + touched[i] + " rows found instead of 1)",
                            where(match, waiting.get(i)));
                }
            }
            done += touched.length;
            waiting.clear();
            watch.changed(done);
            if (!manner.dryRun()
                    && manner.commitEvery().isPresent()
                    && done - committed >= manner.commitEvery().getAsLong()) {
                commit();
            }
        }

        private long[] execute(TableMatch match, List<SqlText> statements) {
            try {
                return session.execute(statements);
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
                                : where(match, waiting.get(e.index())) + ": " + failure.where());
            }
        }
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
        return match.target().name() + " [" + Outlook.key(match, change) + "]";
    }
}
