package sharptally.core.script;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.List;
import sharptally.core.match.TableMatch;
import sharptally.core.sql.SqlDialect;

/** Writes a plan as a script that a person can read and an engine's own client can run. Memory: flat. */
public final class ScriptWriter {
    private final SqlDialect dialect;
    private final ChangeSql sql;
    private final Appendable out;

    public ScriptWriter(SqlDialect dialect, Appendable out) {
        this.dialect = dialect;
        this.sql = new ChangeSql(dialect);
        this.out = out;
    }

    /**
     * @param header lines of the comment at the head, without comment marks
     * @throws UncheckedIOException when the script can't be written
     */
    public void write(ChangePlan plan, List<String> header) {
        header.forEach(line -> line(comment(line)));
        if (ChangeCounts.of(plan).all() == 0) {
            return;
        }
        line("");
        dialect.beginScript().forEach(this::line);
        plan.play(new ChangeSink() {
            @Override
            public void beginTable(TableMatch match, Stage stage) {
                line("");
                line(comment(match.target().name() + ": " + stage.title()));
            }

            @Override
            public void change(TableMatch match, Change change) {
                String statement = sql.statement(match.target(), change).render(dialect::literal);
                line(dialect.countedStatement(match.target(), statement, sql.precondition(change)));
            }

            @Override
            public void endTable(TableMatch match, Stage stage, long rows) {
                dialect.checkCount(match.target(), rows).forEach(ScriptWriter.this::line);
            }
        });
        line("");
        dialect.endScript().forEach(this::line);
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
