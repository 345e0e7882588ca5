package sharptally.core.script.write;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.Hint;
import sharptally.core.fault.ToolException;
import sharptally.core.match.OwnTables;
import sharptally.core.match.TableMatch;
import sharptally.core.script.Change;
import sharptally.core.script.ChangePlan;
import sharptally.core.script.ChangeSink;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.core.sql.SqlDialect;
import sharptally.core.sql.SqlText;

/**
 * Keeps the rows that a plan changes or deletes, as they are before it, in tables beside those of the target.
 *
 * @param end of the names of these tables, behind the name of the table whose rows are kept
 */
public record KeptRows(SqlDialect dialect, String end) {
    private static final int NTATEMENT = 200;

    /** Where rows of a table are kept. */
    public TableName nameFor(TableShape table) {
        return new TableName(table.name().schema(), table.name().name() + OwnTables.KEPT + end);
    }

    /**
     * @throws ToolException when the engine can't hold such a name, and might cut it to another one
     */
    public void check(TableShape table) {
        String name = nameFor(table).name();
        if (!dialect.canName(name)) {
            throw new ToolException(
                    ErrorKind.REFUSED,
                    "the name of the table of kept rows would be too long for this engine",
                    name,
                    Hint.SHORTER_BACKUP);
        }
    }

    /** Makes the table for kept rows, unless it is there; without the end of a statement. */
    public String create(TableShape table) {
        return dialect.createTable(
                dialect.quote(nameFor(table)), "SELECT * FROM " + dialect.quote(table.name()) + " WHERE 1 = 0");
    }

    /**
     * Hands on the statements that keep the rows, each for many of them.
     *
     * @param toDo an expression that is 1 where they are to be kept; empty where they always are
     */
    public void play(ChangePlan plan, Optional<String> toDo, Consumer<String> statements) {
        plan.play(new Keeping(toDo, statements));
    }

    private final class Keeping implements ChangeSink {
        private final Optional<String> toDo;
        private final Consumer<String> statements;
        private final List<String> conditions = new ArrayList<>();
        private Stage stage = Stage.INSERTS;

        Keeping(Optional<String> toDo, Consumer<String> statements) {
            this.toDo = toDo;
            this.statements = statements;
        }

        @Override
        public void beginTable(TableMatch match, Stage now) {
            stage = now;
        }

        @Override
        public void change(TableMatch match, Change change) {
            if (stage == Stage.UPDATES || stage == Stage.DELETES) {
                key(change).ifPresent(fields -> conditions.add(condition(fields)));
                if (conditions.size() == NTATEMENT) {
                    flush(match);
                }
            }
        }

        @Override
        public void endTable(TableMatch match, Stage now, long rows) {
            flush(match);
        }

        private void flush(TableMatch match) {
            if (!conditions.isEmpty()) {
                statements.accept("INSERT INTO " + dialect.quote(nameFor(match.target())) + " SELECT * FROM "
                        + dialect.rowsOf(match.target()) + "\nWHERE "
                        + toDo.map(t -> t + " = 1 AND (").orElse("")
                        + String.join("\n   OR ", conditions)
                        + (toDo.isPresent() ? ")" : ""));
                conditions.clear();
            }
        }
    }

    private static Optional<List<Change.Field>> key(Change change) {
        if (change instanceof Change.Update update) {
            return Optional.of(update.key());
        }
        if (change instanceof Change.Delete delete) {
            return Optional.of(
                    delete.keyColumns() == 0 ? delete.row() : delete.row().subList(0, delete.keyColumns()));
        }
        return Optional.empty();
    }

    private String condition(List<Change.Field> fields) {
        return fields.stream()
                .map(f -> {
                    var holds = new SqlText.Builder();
                    dialect.appendHolds(holds, f.column(), f.value());
                    return holds.build().render(dialect::literal);
                })
                .collect(Collectors.joining(" AND ", "(", ")"));
    }
}
