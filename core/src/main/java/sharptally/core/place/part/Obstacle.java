package sharptally.core.place.part;

/** Why a method of comparing can't be used for a match. */
public sealed interface Obstacle {
    /** There is nothing by which rows could be found again. */
    record NoKey() implements Obstacle {}

    /** A column of the key has no one order on both sides. */
    record KeyOrder(String column) implements Obstacle {}

    /** The places do not order the key as this program does. */
    record ForeignOrder() implements Obstacle {}

    /** A place only hands rows out, and does no such work itself. */
    record NotOffered() implements Obstacle {}

    /** A rule translates values of a column before they are compared. */
    record Translated(String column) implements Obstacle {}

    /**
     * The database does not hold the key unique.
     *
     * @param anySide whether it would do if one side did
     */
    record KeyNotUnique(boolean anySide) implements Obstacle {}

    /** The sides have no fast hash functions in common. */
    record NoOwnForm() implements Obstacle {}

    /** A column is of another type on the other side. */
    record OtherType(String column) implements Obstacle {}

    /** A query, a condition or an expression in SQL means something else where another database file is reached as well. */
    record OwnSql() implements Obstacle {}

    /** A view, or SQL of the user's own, may mean something else in the other side's session, by which both would be read. */
    record OtherStandpoint() implements Obstacle {}

    /** A column of the key may hold what is equal in more than one form, so that the database would not pair it. */
    record KeyForms(String column) implements Obstacle {}

    /** The tables are not where one server can join them. */
    record Apart() implements Obstacle {}

    /**
     * The engine has no text of a column's values that all engines share.
     *
     * @param type as declared
     * @param comparedAs the kind as which it is compared, in lower case
     */
    record NoForm(String column, String type, String comparedAs) implements Obstacle {}

    /** A column is compared as another type than its own, which the engine's own hash functions can't do. */
    record ComparedAsOther(String column, String type) implements Obstacle {}

    /** It was tried on a sample and failed. */
    record Failed(String message) implements Obstacle {}
}
