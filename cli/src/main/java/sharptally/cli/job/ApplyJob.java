package sharptally.cli.job;

import java.util.List;
import java.util.stream.Collectors;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.match.TableMatch;
import sharptally.core.place.ChangeSession;
import sharptally.core.place.Engine;
import sharptally.core.place.Place;
import sharptally.core.place.PlaceAccess;
import sharptally.core.script.Change;
import sharptally.core.script.ChangeCounts;
import sharptally.core.script.ChangePlan;
import sharptally.core.script.ChangeSink;
import sharptally.core.script.ChangeSql;
import sharptally.core.script.Direction;
import sharptally.core.shape.ColumnShape;
import sharptally.engines.Engines;
import sharptally.formats.run.RunFolder;

/** Carries the findings of a run out against its target, all or none. */
public final class ApplyJob {
    private final RunFolder run;
    private final PlaceAccess target;
    private final Engine engine;
    private final ChangePlan plan;

    /**
     * @throws ToolException when the run proves nothing
     */
    public ApplyJob(RunFolder run, PlaceAccess target) {
        ScriptJob.requireComplete(run);
        this.run = run;
        this.target = target;
        this.engine = Engines.of(target.address());
        this.plan = new ChangePlan(run.matches(), run, Direction.MEND, engine.dialect());
    }

    /** What would be changed. */
    public ChangeCounts counts() {
        return ChangeCounts.of(plan);
    }

    /** What a person must know before confirming, a sentence each. */
    public List<String> warnings() {
        return ScriptJob.warnings(run);
    }

    /** What a person types to confirm: the last part of the target's address. */
    public String targetName() {
        String location = target.label().location();
        return location.substring(Math.max(location.lastIndexOf('/'), location.lastIndexOf('\\')) + 1);
    }

    /**
     * Makes all changes in one transaction and commits it.
     *
     * @return rows changed
     * @throws ToolException when a table looks different now, a row had moved on, or the target refuses a change;
     *     nothing has been changed then
     */
    public long apply() {
        checkShapes();
        ChangeSql sql = new ChangeSql(engine.dialect());
        long[] rows = {0};
        try (ChangeSession session = engine.openForChanges(target)) {
            plan.play(new ChangeSink() {
                @Override
                public void beginTable(TableMatch match, Stage stage) {}

                @Override
                public void change(TableMatch match, Change change) {
                    long touched = execute(session, match, change);
                    if (touched != 1) {
                        throw new ToolException(
                                ErrorKind.REFUSED,
                                "a row had changed since it was compared (" + touched
                                        + " rows found instead of 1), so nothing was done",
                                where(match, change),
                                "compare again");
                    }
                    rows[0]++;
                }

                private long execute(ChangeSession session, TableMatch match, Change change) {
                    try {
                        return session.execute(sql.statement(match.target(), change));
                    } catch (ToolException e) {
                        throw new ToolException(
                                e.kind(),
                                e.what() + ", so nothing was done",
                                where(match, change) + ": " + e.where(),
                                e.mend(),
                                e);
                    }
                }

                @Override
                public void endTable(TableMatch match, Stage stage, long touched) {}
            });
            session.commit();
        }
        return rows[0];
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
        var names = match.keyPairs().stream().map(p -> p.target().name()).toList();
        var fields = change instanceof Change.Insert insert
                ? insert.row()
                : change instanceof Change.Update update ? update.key() : ((Change.Delete) change).row();
        return match.target().name()
                + fields.stream()
                        .filter(f -> names.contains(f.column().name()))
                        .map(f -> f.column().name() + " " + f.value())
                        .collect(Collectors.joining(", ", " [", "]"));
    }
}
