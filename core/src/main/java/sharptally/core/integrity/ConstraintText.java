package sharptally.core.integrity;

import sharptally.core.place.part.Integrity;

/** Constraints in words, as they are not met. */
public final class ConstraintText {
    private ConstraintText() {}

    /** What does not meet it. */
    public static String words(Constraint constraint) {
        if (constraint instanceof Constraint.Refers refers) {
            return String.join(", ", refers.columns()) + " names no row of " + refers.parent();
        } else if (constraint instanceof Constraint.Unique unique) {
            return String.join(", ", unique.columns()) + " repeats, and is unique on the other side";
        } else if (constraint instanceof Constraint.Filled filled) {
            return filled.column() + " is NULL, which the other side refuses";
        }
        return "the next number of "
                + ((Constraint.Numbered) constraint).column().name();
    }

    /** A number that is given by itself and is there already. */
    public static String behind(String column, Integrity.Numbers numbers) {
        return "the next number of " + column + " is " + numbers.next() + ", the greatest there is "
                + numbers.greatest().orElse(0L);
    }
}
