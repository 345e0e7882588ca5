package sharptally.core.sql;

import java.util.List;
import java.util.function.LongFunction;

/**
 * Counts in temporary tables.
 *
 * @param create how such a table is made, up to its name
 * @param life what is said behind its columns of how long it lives; empty where {@link #end} removes it
 * @param in where it is, in front of its name
 * @param goColumns the columns of the table that decides: {@code made}, {@code rows} and {@code go}, with a constraint if the
 *     engine names that where it fails
 * @param stop lines that stop where some rows are counted, but not all; given how many all are
 * @param end see {@link #end}
 */
public record CountedByTable(
        String create, String life, String in, String goColumns, LongFunction<List<String>> stop, List<String> end)
        implements Repetition {
    /** Columns with a constraint that keeps a script from going on. */
    public static final String CHECKED =
            "made, rows, go, CONSTRAINT \"" + PARTLY + "\" CHECK (made = 0 OR made = rows)";

    @Override
    public List<String> begin() {
        return List.of(create + "sharp_tally_made (made bigint)" + life + ";");
    }

    @Override
    public String count(String rows) {
        return "INSERT INTO " + in + "sharp_tally_made SELECT " + rows + ";";
    }

    @Override
    public List<String> decide(long all) {
        List<String> lines = new java.util.ArrayList<>(stop.apply(all));
        lines.add(create + "sharp_tally_go (" + goColumns + ")" + life + ";");
        lines.add("INSERT INTO " + in + "sharp_tally_go SELECT sum(made), " + all + ", CASE WHEN sum(made) = " + all
                + " THEN 0 ELSE 1 END FROM " + in + "sharp_tally_made;");
        return List.copyOf(lines);
    }

    @Override
    public String toDo() {
        return "(SELECT go FROM " + in + "sharp_tally_go)";
    }

    @Override
    public List<String> say(String changed, String repeated) {
        return List.of(result(changed, repeated) + ";");
    }

    /** A query for what is to be said. */
    public String result(String changed, String repeated) {
        return "SELECT CASE go WHEN 1 THEN '" + changed + "' ELSE '" + repeated + "' END AS result FROM " + in
                + "sharp_tally_go";
    }
}
