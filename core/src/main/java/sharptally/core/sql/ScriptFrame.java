package sharptally.core.sql;

import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.function.Supplier;
import sharptally.core.shape.TableShape;

/** What stands around the changes of a script: its transaction, its guards, what its client needs. Immutable; safe to share
 * between threads. */
public interface ScriptFrame extends SessionControl {
    /** What a script says when a guard stops it. Short enough to be the name of a constraint in every engine. */
    String STOPPED = "a row had changed since it was compared, so nothing was done";

    /** The same, where what came before can't be taken back. */
    String STOPPED_PARTLY = "a row had changed; what this script did before it stays done";

    /** What a script says when it is run elsewhere. */
    String OTHER_PLACE = "not the database that was compared, nothing was done";

    /** Whether a script stops where a row had moved on. */
    default boolean stopsByItself() {
        return true;
    }

    /** Words of the engine's own client that make it stop at the first error; none where it does so anyway. */
    default List<String> stopAtErrors() {
        return List.of();
    }

    /** How many statements a part of a script may hold that its client sends at once; 0 where it sends each by itself. */
    default long statementsTogether() {
        return 0;
    }

    /** Lines between two such parts, the second of which changes nothing where the first one failed. */
    default List<String> nextPart() {
        return List.of();
    }

    /** A statement that counts nothing, with its end. */
    default String ended(String statement) {
        return statement + ";";
    }

    /** Lines at the end of a script by which the engine's own client says what was done. */
    default List<String> saysDone(String what) {
        return List.of("SELECT '" + what + "' AS result;");
    }

    /** Lines that begin the script's transaction and set up its row counting. */
    List<String> beginScript();

    /** Lines that begin the transaction of a script that counts nothing. */
    List<String> beginPlain();

    /**
     * Lines that stop the script in another database than that of a location, whatever the server; none where a database is
     * a file, which may be copied to try a script on.
     */
    default List<String> checkPlace(String location) {
        return List.of();
    }

    /** Lines that stop the script where a table does not have these columns. */
    default List<String> checkShape(TableShape table, String columns) {
        return List.of("SELECT " + columns + " FROM " + quote(table.name()) + " WHERE 1 = 0;");
    }

    /** Lines that end the script's transaction. */
    List<String> endScript();

    /** Words of the engine's own client at the very end, behind which it goes on as before. */
    default List<String> leaveClient() {
        return List.of();
    }

    /**
     * One statement of a script, with its end, written so that the rows it touches are counted, or in an engine that
     * can't count them, so that the script stops unless the condition for it holds.
     *
     * @param table the table that it changes
     * @param expected how many rows it must touch
     * @param what the rows that it is meant for, as a literal of a text: what the script names when it stops there
     */
    String countedStatement(
            TableShape table,
            String statement,
            Supplier<Optional<Precondition>> precondition,
            Expected expected,
            String what);

    /** How a script finds out that it has run before; empty where it can't. */
    Optional<Repetition> repetition();

    /**
     * What must be so before a statement.
     *
     * @param exists whether rows of the table must, or must not, meet the condition
     * @param rows how many must
     * @param exactly whether no more may; else there are at most so many
     */
    record Precondition(boolean exists, String condition, long rows, boolean exactly) {
        /** That so many rows meet the condition. */
        public static Precondition rows(String condition, long rows) {
            return new Precondition(true, condition, rows, true);
        }

        /** That some row, or none, meets the condition. */
        public static Precondition row(boolean exists, String condition) {
            return new Precondition(exists, condition, 1, false);
        }
    }

    /**
     * Lines that stop the whole transaction unless each statement since the last check touched as many rows as it must;
     * none where each statement does so itself.
     */
    List<String> checkCount(TableShape table, Expected expected);

    /** Lines of a script that do the same, without an answer. */
    default List<String> scriptLockWait(Duration atMost) {
        return lockWait(atMost).stream().map(statement -> statement + ";").toList();
    }

    /** How a person runs a script with the engine's own client: a command, {@code FILE} standing for the script. */
    String howToRun(String location);
}
