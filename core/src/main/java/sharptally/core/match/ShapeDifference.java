package sharptally.core.match;

import sharptally.core.place.Side;
import sharptally.core.types.Kind;

/** Something in which the two tables of a match are declared in different ways. */
public sealed interface ShapeDifference {
    /** A column that has no counterpart on the other side, and was not left out on request. */
    record OnOneSide(Side side, String column) implements ShapeDifference {}

    /**
     * A column that one side has, and of which nobody can tell whether the other has it.
     *
     * @param why what hides it, as the other side's database has it
     */
    record Unseen(String column, String why) implements ShapeDifference {}

    /** Columns that there is no faithful way to compare. Types are as declared. */
    record Incomparable(String column, String sourceType, String targetType) implements ShapeDifference {}

    /**
     * Columns of unlike types that are compared all the same. Types are as declared; empty where none is.
     *
     * @param comparedAs what both become
     */
    record Type(String column, String sourceType, String targetType, Kind comparedAs) implements ShapeDifference {}

    /** Times with a zone and times without, which are taken as UTC. */
    record Zone(String column, String sourceType, String targetType) implements ShapeDifference {}

    /**
     * Times of unlike precision.
     *
     * @param compared the digits of a second that both can hold
     */
    record Digits(String column, String sourceType, String targetType, int compared) implements ShapeDifference {}

    /** Characters or bytes that the columns may hold. */
    record Length(String column, long source, long target) implements ShapeDifference {}

    /**
     * A column that may be NULL on one side only.
     *
     * @param nullable on which
     */
    record Nullability(String column, Side nullable) implements ShapeDifference {}

    /** Columns that stand in another order in the target. */
    record Order() implements ShapeDifference {}

    /** The same seen from the other side. */
    default ShapeDifference reversed() {
        if (this instanceof OnOneSide one) {
            return new OnOneSide(one.side.other(), one.column);
        }
        if (this instanceof Incomparable two) {
            return new Incomparable(two.column, two.targetType, two.sourceType);
        }
        if (this instanceof Type type) {
            return new Type(type.column, type.targetType, type.sourceType, type.comparedAs);
        }
        if (this instanceof Zone zone) {
            return new Zone(zone.column, zone.targetType, zone.sourceType);
        }
        if (this instanceof Digits digits) {
            return new Digits(digits.column, digits.targetType, digits.sourceType, digits.compared);
        }
        if (this instanceof Length length) {
            return new Length(length.column, length.target, length.source);
        }
        return this instanceof Nullability can ? new Nullability(can.column, can.nullable.other()) : this;
    }

    /** Whether rows can't be compared in it, so that nothing is proved of the match as a whole. */
    default boolean leavesUnproved() {
        return this instanceof Incomparable || this instanceof Unseen;
    }
}
