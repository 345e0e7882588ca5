package sharptally.core.sql;

import java.util.List;

/**
 * How a script of one engine finds out that it has run before: it counts the rows that are already as its changes would
 * leave them. Where all are, it changes nothing and succeeds; where only some are, it stops. Immutable.
 */
public interface Repetition {
    /** What a script says when it stops. Short enough to be the name of a constraint in every engine. */
    String PARTLY = "some rows are as this would make them, so nothing was done";

    /** Lines before the first {@link #count}, in the script's transaction. */
    List<String> begin();

    /**
     * A line that adds to the rows that are as the changes would leave them.
     *
     * @param rows how many, as an expression
     */
    String count(String rows);

    /**
     * Lines behind the last {@link #count}: they stop the script where some rows are as it would make them, but not all.
     *
     * @param all how many rows it changes
     */
    List<String> decide(long all);

    /** An expression: 1 where the changes are still to be made, 0 where all of them were. */
    String toDo();

    /** Lines at the end of the transaction, by which the engine's own client keeps what it is to say. */
    default List<String> find(String changed, String repeated) {
        return List.of();
    }

    /** Lines behind the transaction, by which the engine's own client says which of two it was. */
    List<String> say(String changed, String repeated);

    /** Lines at the end of the script that leave nothing of it in the session. */
    List<String> end();
}
