package sharptally.core.script.write;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Supplier;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import sharptally.core.match.TableMatch;
import sharptally.core.script.Change;
import sharptally.core.script.ChangePlan;
import sharptally.core.script.ChangePreview;
import sharptally.core.script.ChangeSink;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Generation;
import sharptally.core.sql.Expected;
import sharptally.core.sql.Repetition;
import sharptally.core.sql.ScriptFrame;
import sharptally.core.sql.SqlDialect;

/** Writes a plan as a script that a person can read and an engine's own client can run. Memory: flat. */
public final class ScriptWriter {
    private static final int MAX_LABEL = 90;

    /** What a script says that had nothing to do. */
    private static final String REPEATED = "already done: all rows are as this would make them, so nothing was changed";

    private static final Pattern UNSAFE = Pattern.compile("[^\\x20-\\x7E\\u00A0-\\u2027\\u202F-\\uD7FF]|[\\\\]");

    private final SqlDialect dialect;
    private final ScriptForm form;
    private final Appendable out;

    public ScriptWriter(SqlDialect dialect, ScriptForm form, Appendable out) {
        this.dialect = dialect;
        this.form = form;
        this.out = out;
    }

    /**
     * Writes the head alone, of a script that has nothing to do.
     *
     * @param header lines of the comment, without comment marks
     */
    public void write(List<String> header) {
        header.forEach(line -> line(comment(line)));
    }

    /**
     * @param location of the place that is changed, as it stands in its address
     * @param header lines of the comment at the head, without comment marks
     * @throws UncheckedIOException when the script can't be written
     */
    public void write(ChangePlan plan, String location, List<String> header) {
        write(header);
        boolean partial = plan.touched().stream().map(TableMatch::target).anyMatch(ScriptSafeguards::isPartial);
        line("");
        ScriptSafeguards caution = form.caution();
        if (form.forClient()) {
            dialect.stopAtErrors().forEach(this::line);
        }
        boolean waitsWithin = dialect.lockWaitOfTransaction();
        if (!waitsWithin) {
            lockWait();
        }
        caution.beforeTransaction(dialect, plan).forEach(this::statement);
        (form.guarded() ? dialect.beginScript() : dialect.beginPlain())
                .forEach(begin ->
                        line(!partial ? begin : begin.replace(ScriptFrame.STOPPED, ScriptFrame.STOPPED_PARTLY)));
        if (waitsWithin) {
            lockWait();
        }
        dialect.checkPlace(location).forEach(this::line);
        caution.atStart(dialect, plan).forEach(this::statement);
        if (form.guarded()) {
            caution.holdStill(dialect, plan).forEach(this::statement);
            plan.touched().forEach(this::checkShape);
        }
        Optional<Repetition> repetition = form.guarded() ? dialect.repetition() : Optional.empty();
        Optional<String> toDo = repetition.flatMap(r -> new MadeBefore(dialect, r, this::line).write(plan));
        caution.kept(dialect).ifPresent(kept -> keep(plan, toDo, kept));
        Stages stages = new Stages(
                new ChangeSql(dialect, form.guarded(), caution.narrowGuards(), caution.allowCascade(), toDo));
        plan.play(stages);
        caution.after(dialect, plan).forEach(this::statement);
        List<String> behind = caution.behindTransaction(dialect, plan);
        List<String> numbers = new ArrayList<>();
        stages.numbered.forEach(
                (match, columns) -> columns.forEach(c -> numbers.addAll(dialect.numbersGoOn(match.target(), c))));
        boolean afterwards = dialect.numbersGoOnAfterwards();
        if (!afterwards) {
            numbersGoOn(numbers);
        }
        line("");
        String done = stages.changes + (stages.changes == 1 ? " change" : " changes") + " made and committed";
        if (form.forClient() && toDo.isPresent()) {
            repetition.get().find(done, REPEATED).forEach(this::line);
        }
        dialect.endScript().forEach(this::line);
        if (afterwards) {
            numbersGoOn(numbers);
        }
        if (!behind.isEmpty()) {
            line("");
            line(comment("to be run by itself if this script stops: until then the triggers stay off"));
            behind.forEach(this::statement);
        }
        if (form.forClient()) {
            (toDo.isPresent() ? repetition.get().say(done, REPEATED) : dialect.saysDone(done)).forEach(this::line);
        }
        if (toDo.isPresent()) {
            repetition.get().end().forEach(this::line);
        }
        if (form.forClient()) {
            dialect.leaveClient().forEach(this::line);
        }
    }

    private void lockWait() {
        form.caution()
                .lockWait()
                .ifPresent(time -> (form.forClient()
                                ? dialect.scriptLockWait(time)
                                : dialect.lockWait(time).stream()
                                        .map(s -> s + ";")
                                        .toList())
                        .forEach(this::line));
    }

    private void keep(ChangePlan plan, Optional<String> toDo, KeptRows kept) {
        line("");
        line(comment("rows that are changed or deleted, as they are now"));
        kept.play(plan, toDo, this::statement);
    }

    private void numbersGoOn(List<String> lines) {
        if (!lines.isEmpty()) {
            line("");
            line(comment("new rows are numbered from behind the greatest number on"));
            lines.forEach(this::line);
        }
    }

    private void checkShape(TableMatch match) {
        String columns = match.target().columns().stream()
                .filter(c -> c.expression().isEmpty())
                .map(c -> dialect.quote(c.name()))
                .collect(Collectors.joining(", "));
        dialect.checkShape(match.target(), columns).forEach(this::line);
    }

    /** Writes statements as changes come. */
    private final class Stages implements ChangeSink, Grouping.Out {
        private final Map<TableMatch, Set<ColumnShape>> numbered = new LinkedHashMap<>();
        private final ChangeSql sql;
        private final Grouping grouping;
        private long changes;
        private long together;

        Stages(ChangeSql sql) {
            this.sql = sql;
            this.grouping = switch (form.style()) {
                case ROW -> new Grouping.Rows(this);
                case BATCH -> new Grouping.Batches(sql, this);
                case MERGE -> new Grouping.Sets(sql, this);
            };
        }

        @Override
        public void beginTable(TableMatch match, Stage stage) {
            line("");
            line(comment(match.target().name() + ": " + stage.title()));
            if (stage == Stage.INSERTS) {
                dialect.beforeInserts(match.target()).forEach(ScriptWriter.this::statement);
            }
        }

        @Override
        public void change(TableMatch match, Change change) {
            if (change instanceof Change.Insert insert) {
                Set<ColumnShape> columns = insert.row().stream()
                        .map(Change.Field::column)
                        .filter(c ->
                                c.generation() == Generation.IDENTITY || c.generation() == Generation.IDENTITY_ALWAYS)
                        .collect(Collectors.toSet());
                if (!columns.isEmpty()) {
                    numbered.putIfAbsent(match, columns);
                }
            }
            changes++;
            grouping.add(match, change);
        }

        @Override
        public void endTable(TableMatch match, Stage stage, long rows) {
            grouping.end(match, rows);
            if (stage == Stage.INSERTS) {
                dialect.afterInserts(match.target()).forEach(ScriptWriter.this::statement);
            }
        }

        @Override
        public void plain(String statement) {
            nextPart();
            statement(statement);
        }

        /** Begins a new part once the last one is large. */
        private void nextPart() {
            long most = form.forClient() ? dialect.statementsTogether() : 0;
            if (most > 0 && together++ == most) {
                dialect.nextPart().forEach(ScriptWriter.this::line);
                together = 1;
            }
        }

        @Override
        public void alone(TableMatch match, Change change) {
            if (form.oldValues() && change instanceof Change.Update update) {
                line(comment(update.before().stream()
                        .map(f -> f.column().name() + " was " + dialect.literal(f.value(), f.column()))
                        .collect(Collectors.joining(", "))));
            }
            String statement = sql.statement(match.target(), change).render(dialect::literal);
            counted(match, statement, () -> sql.precondition(match.target(), change), 1, change);
        }

        @Override
        public void counted(
                TableMatch match,
                String statement,
                Supplier<Optional<ScriptFrame.Precondition>> precondition,
                long rows,
                Change first) {
            nextPart();
            line(
                    form.guarded()
                            ? dialect.countedStatement(
                                    match.target(),
                                    statement,
                                    precondition,
                                    new Expected(rows, sql.toDo()),
                                    label(match, rows, first))
                            : dialect.ended(statement));
        }

        @Override
        public void check(TableMatch match, long rows) {
            if (form.guarded()) {
                dialect.checkCount(match.target(), new Expected(rows, sql.toDo()))
                        .forEach(ScriptWriter.this::line);
            }
        }
    }

    /** What a script names when it stops at a statement: a literal that every engine reads in the same way. */
    private static String label(TableMatch match, long rows, Change first) {
        String key = match.wholeRow() ? "" : ChangePreview.key(match, first);
        String which = rows == 1 ? key : rows + " rows" + (key.isEmpty() ? "" : " from " + key + " on");
        String text = match.target().name().name() + (which.isEmpty() ? "" : ", " + which);
        String plain = UNSAFE.matcher(text).replaceAll("?");
        return "'" + (plain.length() > MAX_LABEL ? plain.substring(0, MAX_LABEL) + "..." : plain).replace("'", "''")
                + "'";
    }

    private void statement(String text) {
        line(dialect.ended(text));
    }

    /** One comment line, whatever characters a name in it may have. */
    private static String comment(String text) {
        return ("-- " + text.replaceAll("\\R", " ")).stripTrailing();
    }

    private void line(String text) {
        try {
            out.append(text).append('\n');
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
