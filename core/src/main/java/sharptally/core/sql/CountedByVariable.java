package sharptally.core.sql;

import java.util.List;
import java.util.function.LongFunction;

/**
 * Counts in variables of the session.
 *
 * @param stop lines that stop where {@code @made} is neither 0 nor all, given how many all are
 */
public record CountedByVariable(LongFunction<List<String>> stop) implements Repetition {
    @Override
    public List<String> begin() {
        return List.of("SET @made = 0;");
    }

    @Override
    public String count(String rows) {
        return "SET @made = @made + " + rows + ";";
    }

    @Override
    public List<String> decide(long all) {
        List<String> lines = new java.util.ArrayList<>(stop.apply(all));
        lines.add("SET @go = CASE WHEN @made = " + all + " THEN 0 ELSE 1 END;");
        return List.copyOf(lines);
    }

    @Override
    public String toDo() {
        return "@go";
    }

    @Override
    public List<String> say(String changed, String repeated) {
        return List.of("SELECT CASE @go WHEN 1 THEN '" + changed + "' ELSE '" + repeated + "' END AS result;");
    }

    @Override
    public List<String> end() {
        return List.of();
    }
}
