package sharptally.cli.option;

import java.time.Clock;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import picocli.CommandLine.Option;
import sharptally.api.job.Narrowing;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.match.text.RelativeTime;

/** Which rows of both databases a command works on: by a condition in their SQL, or by conditions of ours. */
public final class RowChoice {
    private static final Pattern COMPARED =
            Pattern.compile("(.*?(?:[<>!]=|<>|[<>=])\\s*)([\\w-]+)\\s*", Pattern.DOTALL);

    @Option(
            names = "--where",
            paramLabel = "SQL",
            description = {
                "Only rows that meet this, in SQL of both sides.",
                "Times from now may stand in it: taken_at >= '${time:7d}'."
            })
    Optional<String> where = Optional.empty();

    @Option(
            names = "--if",
            paramLabel = "CONDITION",
            description = {
                "Only rows that meet this, as 'level_m > 5'.",
                "Repeatable, all must be met. The operators are = != < <= > >=, is null and is not null; both databases are asked"
                        + " the same, whatever their SQL. Times may be given from now: 'taken_at >= 7d'."
            })
    List<String> conditions = List.of();

    /** What keeps rows out. */
    public Narrowing narrowing() {
        return new Narrowing(
                where.map(RowChoice::filled),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                conditions.stream().map(RowChoice::timed).toList());
    }

    private static String filled(String sql) {
        try {
            return RelativeTime.filled(sql, Clock.systemUTC());
        } catch (IllegalArgumentException e) {
            throw new ToolException(ErrorKind.USAGE, String.valueOf(e.getMessage()), "--where", "", e);
        }
    }

    private static String timed(String condition) {
        Matcher parts = COMPARED.matcher(condition);
        return parts.matches()
                ? RelativeTime.parse(parts.group(2), Clock.systemUTC())
                        .map(time -> parts.group(1) + time)
                        .orElse(condition)
                : condition;
    }
}
