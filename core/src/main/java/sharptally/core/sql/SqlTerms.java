package sharptally.core.sql;

import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.core.types.Value;

/** Names, values and conditions as one engine reads them; all that is needed to read its tables. Immutable; safe to share between
 * threads. */
public interface SqlTerms {
    /** A name in double quotes, as the standard has it. */
    static String doubleQuoted(String name) {
        return '"' + name.replace("\"", "\"\"") + '"';
    }

    /** A name as it stands in a statement, whatever characters it has. */
    default String quote(String name) {
        return doubleQuoted(name);
    }

    default String quote(TableName table) {
        return table.schema().map(s -> quote(s) + ".").orElse("") + quote(table.name());
    }

    /** A table as it stands behind FROM, UPDATE or DELETE FROM, so that only rows of its own are meant. */
    default String rowsOf(TableShape table) {
        return quote(table.name());
    }

    /** A value as a literal that the engine reads back as exactly that value in that column; NULL too. */
    String literal(Value value, ColumnShape column);

    /** What stands between values that are selected from no table and a condition. */
    default String fromNothing() {
        return "";
    }

    /** Appends a condition that holds only for rows whose column holds exactly this value, NULL included. */
    default void appendHolds(SqlText.Builder sql, ColumnShape column, Value value) {
        sql.text(quote(column.name()));
        if (value instanceof Value.Null) {
            sql.text(" IS NULL");
        } else {
            sql.text(" = ").value(value, column);
        }
    }

    /** A condition that holds where two expressions of a column's type are exactly the same, or both NULL. */
    default String same(ColumnShape column, String one, String other) {
        return one + " IS NOT DISTINCT FROM " + other;
    }

    /** What is left of a whole number above zero when it is divided. */
    default String remainder(String number, long divisor) {
        return number + " % " + divisor;
    }
}
