package sharptally.engines.jdbc;

import java.util.EnumSet;
import java.util.Set;
import sharptally.core.types.Kind;

/** Which values have a text in the common form that is the same in every engine. */
public final class CommonForm {
    private static final Set<Kind> EXACT_NUMBERS = EnumSet.of(Kind.BOOLEAN, Kind.INTEGER, Kind.DECIMAL);
    private static final Set<Kind> FLOATING = EnumSet.of(Kind.FLOAT, Kind.DOUBLE);
    private static final Set<Kind> TIMES = EnumSet.of(Kind.DATE, Kind.TIMESTAMP, Kind.INSTANT);

    private CommonForm() {}

    /** Whether values of a kind, compared as another one, have equal texts only where they are equal. */
    public static boolean isExact(Kind kind, Kind comparedAs) {
        return kind == comparedAs
                || EXACT_NUMBERS.contains(kind) && EXACT_NUMBERS.contains(comparedAs)
                || FLOATING.contains(kind) && FLOATING.contains(comparedAs)
                || TIMES.contains(kind) && TIMES.contains(comparedAs) && comparedAs != Kind.DATE;
    }
}
