package sharptally.core.script;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import sharptally.core.match.TableMatch;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Generation;
import sharptally.core.sql.SqlDialect;

/** Writes a plan as a script that a person can read and an engine's own client can run. Memory: flat. */
public final class ScriptWriter {
    private static final int ROWS_PER_STATEMENT = 200;
    private static final int MAX_SHAPES = 64;

    /** How many rows a statement changes. */
    public enum Style {
        /** One, which is easiest to read. */
        ROW,
        /** Many, which is faster. */
        BATCH;

        @Override
        public String toString() {
            return name().toLowerCase(java.util.Locale.ROOT);
        }
    }

    private final SqlDialect dialect;
    private final ChangeSql sql;
    private final Style style;
    private final boolean guarded;
    private final Appendable out;

    /**
     * @param guarded whether the script stops where a row had moved on
     */
    public ScriptWriter(SqlDialect dialect, Style style, boolean guarded, Appendable out) {
        this.dialect = dialect;
        this.sql = new ChangeSql(dialect, guarded);
        this.style = style;
        this.guarded = guarded;
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
     * @param header lines of the comment at the head, without comment marks
     * @throws UncheckedIOException when the script can't be written
     */
    public void write(ChangePlan plan, List<String> header) {
        write(header);
        line("");
        (guarded ? dialect.beginScript() : dialect.beginPlain()).forEach(this::line);
        if (guarded) {
            plan.matches().forEach(this::checkShape);
        }
        Stages stages = new Stages();
        plan.play(stages);
        List<String> numbers = new ArrayList<>();
        stages.numbered.forEach(
                (match, columns) -> columns.forEach(c -> numbers.addAll(dialect.numbersGoOn(match.target(), c))));
        boolean afterwards = dialect.numbersGoOnAfterwards();
        if (!afterwards) {
            numbersGoOn(numbers);
        }
        line("");
        dialect.endScript().forEach(this::line);
        if (afterwards) {
            numbersGoOn(numbers);
        }
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

    /** Writes statements as changes come, those that may stand together in one where that is wanted. */
    private final class Stages implements ChangeSink {
        private final Map<List<String>, List<Change>> waiting = new LinkedHashMap<>();
        private final Map<TableMatch, Set<ColumnShape>> numbered = new LinkedHashMap<>();

        @Override
        public void beginTable(TableMatch match, Stage stage) {
            line("");
            line(comment(match.target().name() + ": " + stage.title()));
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
            Optional<List<String>> shape = style == Style.BATCH ? sql.shape(change) : Optional.empty();
            if (shape.isEmpty()) {
                alone(match, change);
                return;
            }
            List<Change> together = waiting.computeIfAbsent(shape.get(), s -> new ArrayList<>());
            together.add(change);
            if (together.size() == ROWS_PER_STATEMENT) {
                flush(match, together);
            } else if (waiting.size() == MAX_SHAPES) {
                flushAll(match);
            }
        }

        private void alone(TableMatch match, Change change) {
            String statement = sql.statement(match.target(), change).render(dialect::literal);
            statement(match, statement, () -> sql.precondition(change), 1);
        }

        private void flushAll(TableMatch match) {
            waiting.values().forEach(together -> flush(match, together));
            waiting.clear();
        }

        private void flush(TableMatch match, List<Change> together) {
            if (together.size() == 1) {
                alone(match, together.get(0));
            } else if (!together.isEmpty()) {
                List<Change> all = List.copyOf(together);
                statement(match, sql.together(match.target(), all), () -> sql.precondition(all), all.size());
            }
            together.clear();
        }

        private void statement(
                TableMatch match,
                String statement,
                Supplier<Optional<SqlDialect.Precondition>> precondition,
                long rows) {
            line(guarded ? dialect.countedStatement(match.target(), statement, precondition, rows) : statement + ";");
        }

        @Override
        public void endTable(TableMatch match, Stage stage, long rows) {
            flushAll(match);
            if (guarded) {
                dialect.checkCount(match.target(), rows).forEach(ScriptWriter.this::line);
            }
        }
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
