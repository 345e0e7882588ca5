package sharptally.core.sql;

import java.util.List;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;
import sharptally.core.types.Kind;

/** How one engine wants rows to be changed: one by one, or many at once by rows that are staged. Immutable; safe to share
 * between threads. */
public interface ChangeStatements extends SqlTerms {
    /** Whether any column takes a value of any kind as it is, so that nothing is to be brought to a column's type. */
    boolean holdsAnyValue();

    /** What stands between the columns and VALUES when a statement gives an identity column its value; may be empty. */
    String overridingIdentity(TableShape table);

    /** Statements, without end marks, by which a table's rows may bring the numbers that it would give them itself. */
    default List<String> beforeInserts(TableShape table) {
        return List.of();
    }

    /** What takes {@link #beforeInserts} back. */
    default List<String> afterInserts(TableShape table) {
        return List.of();
    }

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

    /** Whether the literals of a column may stand in a CASE, whose type is found from them alone. */
    default boolean canChoose(ColumnShape column) {
        Kind kind = column.type().orElseThrow().kind();
        return kind != Kind.OTHER && kind != Kind.JSON && kind != Kind.BITS && kind != Kind.ANY;
    }

    /** A CASE over literals of a column, as a value that the column takes. */
    default String chosen(String expression, ColumnShape column) {
        return expression;
    }

    /** Whether a row that a transaction deleted can be inserted again in the same one. */
    default boolean takesBackAtOnce() {
        return true;
    }

    /** Whether one statement that finds many rows by their keys is faster than a prepared one for each. */
    boolean isFasterTogether();

    /** Whether foreign keys are checked at each row that a statement touches, and not at its end. */
    boolean checksEachRow();

    /** How many rows are changed at once by those that are staged. */
    SetForm setForm();

    /** What a table is called behind {@code MERGE INTO}. */
    default String merged(TableShape table) {
        return rowsOf(table);
    }

    /** Whether rows can be staged in a table that goes with the transaction or session. */
    default boolean hasTemporaryTables() {
        return true;
    }

    /** How a temporary table is named wherever it stands. */
    default String temporary(String name) {
        return name;
    }

    /** Makes a temporary table, for this transaction or session, with the columns of a query. */
    default String stage(String name, String query) {
        return "CREATE TEMPORARY TABLE " + name + " AS " + query;
    }

    /** Removes it. */
    default String unstage(String name) {
        return "DROP TABLE " + name;
    }

    /**
     * One statement that inserts rows, without an end mark.
     *
     * @param into {@code INSERT INTO} and all that stands before the rows
     * @param rows literals of each row, in brackets; at least one
     */
    default String insertRows(String into, List<String> rows) {
        return into + " VALUES\n" + String.join(",\n", rows);
    }

    /** Makes a lasting table with the columns of a query and the rows that it has, unless the table is there. */
    default String createTable(String name, String query) {
        return "CREATE TABLE IF NOT EXISTS " + name + " AS " + query;
    }
}
