package sharptally.core.script.write;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import sharptally.core.match.TableMatch;
import sharptally.core.script.Change.Field;
import sharptally.core.script.ChangePlan;
import sharptally.core.script.Mark;
import sharptally.core.sql.Repetition;
import sharptally.core.sql.SqlDialect;
import sharptally.core.sql.SqlText;

/** Writes how a script counts the rows that are already as a plan's changes would leave them. Used once. */
final class MadeBefore {
    private static final int NTATEMENT = 200;
    private static final int FIELDS_PER_STATEMENT = 2_000;

    /** Rows without a key are looked for by going through their table, so only so many are. */
    private static final int MAX_EXACTLY = 100;

    private final SqlDialect dialect;
    private final Repetition repetition;
    private final Consumer<String> lines;
    private final List<String> there = new ArrayList<>();
    private final List<String> gone = new ArrayList<>();
    private int fields;
    private int counted;
    private long told;
    private long untold;

    MadeBefore(SqlDialect dialect, Repetition repetition, Consumer<String> lines) {
        this.dialect = dialect;
        this.repetition = repetition;
        this.lines = lines;
    }

    /**
     * Writes it, unless no row can be told from others like it.
     *
     * @return what tells afterwards whether the changes are to be made
     */
    Optional<String> write(ChangePlan plan) {
        plan.marks(
                (match, mark) -> {
                    if (!mark.told() || mark.exactly().isPresent() && counted++ >= MAX_EXACTLY) {
                        untold += mark.weight();
                        return;
                    }
                    if (told == 0) {
                        lines.accept("");
                        lines.accept("-- was all of it done before?");
                        repetition.begin().forEach(lines);
                    }
                    told += mark.weight();
                    add(match, mark);
                },
                this::flush);
        if (told == 0) {
            lines.accept("");
            lines.accept("-- No key tells these rows from others: run again, this makes its changes again.");
            return Optional.empty();
        }
        repetition.decide(told + untold).forEach(lines);
        return Optional.of(repetition.toDo());
    }

    private void add(TableMatch match, Mark mark) {
        // Not NOT: where a column is NULL, neither that nor its contrary is true.
        String condition = condition(mark.held())
                + (mark.not().isEmpty() ? "" : " AND CASE WHEN " + condition(mark.not()) + " THEN 1 ELSE 0 END = 0");
        if (mark.exactly().isPresent()) {
            lines.accept(repetition.count("CASE (" + count(match) + condition + ") WHEN "
                    + mark.exactly().getAsLong() + " THEN " + mark.weight() + " ELSE 0 END"));
            return;
        }
        (mark.there() ? there : gone).add(condition);
        fields += mark.held().size() + mark.not().size();
        if (there.size() + gone.size() == NTATEMENT || fields >= FIELDS_PER_STATEMENT) {
            flush(match);
        }
    }

    private void flush(TableMatch match) {
        if (!there.isEmpty()) {
            lines.accept(repetition.count("(" + count(match) + anyOf(there) + ")"));
        }
        if (!gone.isEmpty()) {
            lines.accept(repetition.count(gone.size() + " - (" + count(match) + anyOf(gone) + ")"));
        }
        there.clear();
        gone.clear();
        fields = 0;
    }

    private String count(TableMatch match) {
        return "SELECT COUNT(*) FROM " + dialect.rowsOf(match.target()) + " WHERE ";
    }

    private static String anyOf(List<String> conditions) {
        return conditions.size() == 1
                ? conditions.get(0)
                : conditions.stream().collect(Collectors.joining(")\n   OR (", "(", ")"));
    }

    private String condition(List<Field> held) {
        var condition = new SqlText.Builder();
        ChangeSql.hold(dialect, condition, held);
        return condition.build().render(dialect::literal);
    }
}
