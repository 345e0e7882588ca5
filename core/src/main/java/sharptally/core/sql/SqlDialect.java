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

    /** What a script says when it is run elsewhere. */
    String OTHER_PLACE = "not the database that was compared, nothing was done";

    /** A name in double quotes, as the standard has it. */
    static String doubleQuoted(String name) {
        return '"' + name.replace("\"", "\"\"") + '"';
    }

    /** A name as it stands in a statement, whatever characters it has. */
    String quote(String name);

    default String quote(TableName table) {
        return table.schema().map(s -> quote(s) + ".").orElse("") + quote(table.name());
    }

    /** A table as it stands behind FROM, UPDATE or DELETE FROM, so that only rows of its own are meant. */
    default String rowsOf(TableShape table) {
        return quote(table.name());
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

    /** Whether declared types tell all digits that a column holds; else no value is rounded before it is written. */
    default boolean tellsDigits() {
        return true;
    }

    /** How many characters a text has where the engine counts them against a declared length. */
    default long characters(String text) {
        return text.codePointCount(0, text.length());
    }

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

    /** Statements by which a session waits only so long for a lock; none where the engine never waits, or can't be told. */
    List<String> lockWait(Duration atMost);

    /** Lines of a script that do the same, without an answer. */
    default List<String> scriptLockWait(Duration atMost) {
        return lockWait(atMost).stream().map(statement -> statement + ";").toList();
    }

    /**
     * Statements by which others wait before they change a table until the transaction ends; none where a guard that looks
     * for rows locks what it finds and what it does not find.
     */
    default List<String> holdStill(TableName table) {
        return List.of();
    }

    /** Statements that put checks of foreign keys off to the end of a transaction, as far as the engine can. */
    List<String> deferReferences();

    /** Statements that make these checks now; none where they are made at each statement. */
    default List<String> checkReferences() {
        return List.of();
    }

    /** Whether a row that a transaction deleted can be inserted again in the same one. */
    default boolean takesBackAtOnce() {
        return true;
    }

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
