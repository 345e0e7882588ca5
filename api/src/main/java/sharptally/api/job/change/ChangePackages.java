package sharptally.api.job.change;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.Hint;
import sharptally.core.fault.ToolException;
import sharptally.core.match.TableMatch;
import sharptally.core.place.part.ChangeSession;
import sharptally.core.place.part.RefusedChange;
import sharptally.core.script.Change;
import sharptally.core.script.Change.Field;
import sharptally.core.script.ChangePlan;
import sharptally.core.script.ChangePreview;
import sharptally.core.script.ChangeSink;
import sharptally.core.script.write.ChangeSql;
import sharptally.core.script.write.ScriptSafeguards;
import sharptally.core.sql.ScriptFrame.Precondition;
import sharptally.core.sql.SqlText;
import sharptally.core.types.Value;

/**
 * Makes changes as they come, many in one package: by one statement where they are alike and the engine is faster so, else
 * one by one. Each must touch exactly one row. Used by one thread.
 */
final class ChangePackages implements ChangeSink {
    private static final int CHANGES_AT_ONCE = 400;
    private static final int MAX_SMALL = 5_000;

    /** On whose behalf they are made. */
    interface Owner {
        /**
         * A package was made.
         *
         * @param changes how many there were in it
         */
        void made(long changes);

        /** The failure as it is told, with what was done by then. */
        ToolException failed(ToolException e, String what, String where);
    }

    private final ChangeSession session;
    private final ChangeSql sql;
    private final ChangePlan plan;
    private final ScriptSafeguards caution;
    private final boolean lasting;
    private final Owner owner;
    private final ReachedRows reached;
    private final List<Change> waiting = new ArrayList<>();
    private long toSkip;

    /**
     * @param toSkip how many changes were made before, and are not made again
     * @param lasting whether each is made by itself, and only where it finds one row, as none can be taken back
     */
    ChangePackages(
            ChangeSession session,
            ChangeSql sql,
            ChangePlan plan,
            ScriptSafeguards caution,
            long toSkip,
            boolean lasting,
            Owner owner) {
        this.session = session;
        this.sql = sql;
        this.plan = plan;
        this.caution = caution;
        this.toSkip = toSkip;
        this.lasting = lasting;
        this.owner = owner;
        this.reached = new ReachedRows(session, sql);
    }

    /** What the database did by itself to rows of other tables; empty where it did nothing. */
    Optional<String> reached() {
        return reached.told();
    }

    @Override
    public void beginTable(TableMatch match, Stage stage) {
        waiting.clear();
        if (stage == Stage.INSERTS) {
            set(sql.dialect().beforeInserts(match.target()));
        }
    }

    private void set(List<String> statements) {
        try {
            statements.forEach(session::set);
        } catch (RefusedChange e) {
            throw e.mayBeTriedAgain()
                    ? e
                    : owner.failed(e.failure(), e.failure().what(), e.failure().where());
        }
    }

    @Override
    public void change(TableMatch match, Change change) {
        if (toSkip > 0) {
            toSkip--;
            return;
        }
        waiting.add(change);
        if (lasting || waiting.size() == CHANGES_AT_ONCE) {
            flush(match);
        }
    }

    @Override
    public void endTable(TableMatch match, Stage stage, long rows) {
        flush(match);
        if (stage == Stage.INSERTS) {
            set(sql.dialect().afterInserts(match.target()));
        }
    }

    private void flush(TableMatch match) {
        if (caution.allowCascade()) {
            reached.add(match, waiting);
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
        long made = waiting.size();
        waiting.clear();
        owner.made(made);
    }

    /** What changes must have in common to be made by one statement; empty for those that are made alone. */
    private Optional<List<String>> shape(TableMatch match, Change change) {
        return sql.dialect().isFasterTogether() && isSmall(change)
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
                    : owner.failed(e.failure(), e.failure().what(), e.failure().where());
        }
    }

    private void oneByOne(TableMatch match, List<Change> changes) {
        if (lasting) {
            changes.forEach(change -> look(match, change));
        }
        long[] touched = execute(match, changes);
        for (int i = 0; i < touched.length; i++) {
            if (touched[i] != 1) {
                throw moved(match, changes.get(i), touched[i]);
            }
        }
    }

    /** That exactly one row is as it was, before it is touched. */
    private void look(TableMatch match, Change change) {
        Optional<Precondition> precondition =
                sql.precondition(match.target(), change).filter(Precondition::exists);
        if (precondition.isPresent()) {
            long rows = session.count("SELECT COUNT(*) FROM "
                    + sql.dialect().rowsOf(match.target()) + " WHERE "
                    + precondition.get().condition());
            if (rows != 1) {
                throw moved(match, change, rows);
            }
        }
    }

    private ToolException moved(TableMatch match, Change change, long rows) {
        stopWhereOthersRefer(match, change);
        return owner.failed(
                new ToolException(ErrorKind.REFUSED, "", "", "recheck, or compare again"),
                "a row had changed since it was compared (" + rows + " rows found instead of 1)",
                where(match, change));
    }

    /** Says so where a row was not deleted because the database would do something to others then. */
    private void stopWhereOthersRefer(TableMatch match, Change change) {
        if (!(change instanceof Change.Delete) || caution.allowCascade()) {
            return;
        }
        ReachedRows refers = new ReachedRows(session, sql);
        refers.add(match, List.of(change));
        if (refers.told().isPresent()) {
            ReachedRows all = new ReachedRows(session, sql);
            all.addAll(plan, match);
            throw owner.failed(
                    new ToolException(ErrorKind.REFUSED, "", "", Hint.ALLOW_CASCADE),
                    "rows refer to some that are to be deleted, and the database would act on them by itself ("
                            + all.told().orElseThrow() + ")",
                    where(match, change));
        }
    }

    private long[] execute(TableMatch match, List<Change> changes) {
        try {
            return session.execute(
                    changes.stream().map(c -> sql.statement(match.target(), c)).toList());
        } catch (RefusedChange e) {
            if (e.mayBeTriedAgain()) {
                throw e;
            }
            ToolException failure = e.failure();
            throw owner.failed(
                    failure,
                    failure.what(),
                    e.index() < 0 ? failure.where() : where(match, changes.get(e.index())) + ": " + failure.where());
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

    /** The row by its key alone; other values are not shown. */
    private static String where(TableMatch match, Change change) {
        return match.target().name() + " [" + ChangePreview.key(match, change) + "]";
    }
}
