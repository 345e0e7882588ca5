package sharptally.core.sql;

import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.function.Supplier;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.core.types.Kind;
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

    /** Whether the engine can hold a name of this length as it is. */
    default boolean canName(String name) {
        return true;
    }

    /** Words of the engine's own client that make it stop at the first error; none where it does so anyway. */
    default List<String> stopAtErrors() {
        return List.of();
    }

    /** Lines at the end of a script by which the engine's own client says what was done. */
    default List<String> saysDone(String what) {
        return List.of("SELECT '" + what + "' AS result;");
    }

    /** Lines that begin the script's transaction and set up its row counting. */
    List<String> beginScript();

    /** Lines that begin the transaction of a script that counts nothing. */
    List<String> beginPlain();

    /** Lines that stop the script where a table does not have these columns. */
    default List<String> checkShape(TableShape table, String columns) {
        return List.of("SELECT " + columns + " FROM " + quote(table.name()) + " WHERE 1 = 0;");
    }

    /** Whether the literals of a column may stand in a CASE, whose type is found from them alone. */
    default boolean canChoose(ColumnShape column) {
        Kind kind = column.type().orElseThrow().kind();
        return kind != Kind.OTHER && kind != Kind.JSON && kind != Kind.BITS && kind != Kind.ANY;
    }

    /** A CASE over literals of a column, as a value that the column takes. */
    default String chosen(String expression, ColumnShape column) {
        return expression;
    }

    /**
     * Lines by which a column's own numbers go on behind the greatest one that stands in the table.
     *
     * @param column one that numbers rows by itself
     */
    default List<String> numbersGoOn(TableShape table, ColumnShape column) {
        return List.of();
    }

    /** Whether {@link #numbersGoOn} ends the transaction, and so comes behind it. */
    default boolean numbersGoOnAfterwards() {
        return false;
    }

    /** Lines that end the script's transaction. */
    List<String> endScript();

    /**
     * One statement of a script, with its end, written so that the rows it touches are counted, or in an engine that
     * can't count them, so that the script stops unless the condition for it holds.
     *
     * @param table the table that it changes
     * @param rows how many rows it must touch
     */
    String countedStatement(
            TableShape table, String statement, Supplier<Optional<Precondition>> precondition, long rows);

    /**
     * What must be so before a statement.
     *
     * @param exists whether rows of the table must, or must not, meet the condition
     * @param rows how many must
     */
    record Precondition(boolean exists, String condition, long rows) {}

    /** Lines that stop the whole transaction unless the statements since the last check touched that many rows. */
    List<String> checkCount(TableShape table, long rows);

    /** Statements that begin to count anew, where an engine counts whatever a session does. */
    default List<String> startCount() {
        return List.of();
    }

    /** Statements by which a session waits only so long for a lock; none where the engine never waits, or can't be told. */
    List<String> lockWait(Duration atMost);

    /** Lines of a script that do the same, without an answer. */
    default List<String> scriptLockWait(Duration atMost) {
        return lockWait(atMost).stream().map(statement -> statement + ";").toList();
    }

    /** Statements that put checks of foreign keys off to the end of a transaction, as far as the engine can. */
    List<String> deferReferences();

    /** Statements that keep the triggers of a table from running; empty where the engine can't. */
    List<String> triggersOff(TableShape table);

    /** Statements that take {@link #triggersOff} back. */
    List<String> triggersOn(TableShape table);

    /** Whether one statement that finds many rows by their keys is faster than a prepared one for each. */
    boolean isFasterTogether();

    /** Whether foreign keys are checked at each row that a statement touches, and not at its end. */
    boolean checksEachRow();

    /** How many rows are changed at once by those that are staged. */
    SetForm setForm();

    /** Makes a temporary table, for this transaction or session, with the columns of a query. */
    default String stage(String name, String query) {
        return "CREATE TEMPORARY TABLE " + name + " AS " + query;
    }

    /** Removes it. */
    default String unstage(String name) {
        return "DROP TABLE " + name;
    }

    /** A condition that holds where two expressions of a column's type are exactly the same, or both NULL. */
    default String same(ColumnShape column, String one, String other) {
        return one + " IS NOT DISTINCT FROM " + other;
    }

    /** How a person runs a script with the engine's own client: a command, {@code FILE} standing for the script. */
    String howToRun(String location);
}
