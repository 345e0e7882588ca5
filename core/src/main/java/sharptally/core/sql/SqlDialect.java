package sharptally.core.sql;

import java.util.List;
import java.util.Optional;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.core.types.Value;

/** How one engine wants its statements written. Immutable; safe to share between threads. */
public interface SqlDialect {
    /** What a script says when a guard stops it. Short enough to be the name of a constraint in every engine. */
    String STOPPED = "a row had changed since it was compared, so nothing was done";

    /** A name in double quotes, as the standard has it. */
    static String doubleQuoted(String name) {
        return '"' + name.replace("\"", "\"\"") + '"';
    }

    /** A name as it stands in a statement, whatever characters it has. */
    String quote(String name);

    default String quote(TableName table) {
        return table.schema().map(s -> quote(s) + ".").orElse("") + quote(table.name());
    }

    /** Whether any column takes a value of any kind as it is, so that nothing is to be brought to a column's type. */
    boolean holdsAnyValue();

    /** A value as a literal that the engine reads back as exactly that value in that column; NULL too. */
    String literal(Value value, ColumnShape column);

    /** Appends a condition that holds only for rows whose column holds exactly this value, NULL included. */
    void appendHolds(SqlText.Builder sql, ColumnShape column, Value value);

    /** What stands between the columns and VALUES when a statement gives an identity column its value; may be empty. */
    String overridingIdentity(TableShape table);

    /** A deletion of one of the rows, all alike, that the condition finds. */
    SqlText deleteOne(TableShape table, SqlText condition);

    /** Lines that begin the script's transaction and set up its row counting. */
    List<String> beginScript();

    /** Lines that end the script's transaction. */
    List<String> endScript();

    /**
     * One statement of a script, with its end, written so that the rows it touches are counted, or in an engine that
     * can't count them, so that the script stops unless the condition for it holds.
     *
     * @param table the table that it changes
     */
    String countedStatement(TableShape table, String statement, Optional<Precondition> precondition);

    /**
     * What must be so before a statement.
     *
     * @param exists whether a row of the table must, or must not, meet the condition
     */
    record Precondition(boolean exists, String condition) {}

    /** Lines that stop the whole transaction unless the statements since the last check touched that many rows. */
    List<String> checkCount(TableShape table, long rows);

    /** How a person runs a script with the engine's own client: a command, {@code FILE} standing for the script. */
    String howToRun(String location);
}
