package sharptally.engines.jdbc.sums;

import java.util.EnumSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import sharptally.core.place.part.Obstacle;
import sharptally.core.place.part.SumsRequest.Hashed;
import sharptally.core.types.Kind;

/** Which values have a text in the common form that is the same in every engine. */
public final class CommonForm {
    private static final Set<Kind> EXACT_NUMBERS = EnumSet.of(Kind.BOOLEAN, Kind.INTEGER, Kind.DECIMAL);
    private static final Set<Kind> FLOATING = EnumSet.of(Kind.FLOAT, Kind.DOUBLE);
    private static final Set<Kind> TIMES = EnumSet.of(Kind.DATE, Kind.TIMESTAMP, Kind.INSTANT);

    private CommonForm() {}

    /**
     * Why rows of some columns have no hash in the common form; empty when they have.
     *
     * @param hasText whether the engine can write the text of a column's values
     */
    public static Optional<Obstacle> problem(List<Hashed> columns, Predicate<Hashed> hasText) {
        return columns.stream()
                .filter(c -> !isExact(c.column().type().orElseThrow().kind(), c.comparedAs()) || !hasText.test(c))
                .findFirst()
                .map(c -> new Obstacle.NoForm(
                        c.column().name(),
                        c.column().declaredType(),
                        c.comparedAs().name().toLowerCase(Locale.ROOT)));
    }

    /** Whether values of a kind, compared as another one, have equal texts only where they are equal. */
    private static boolean isExact(Kind kind, Kind comparedAs) {
        return kind == comparedAs
                || EXACT_NUMBERS.contains(kind) && EXACT_NUMBERS.contains(comparedAs)
                || FLOATING.contains(kind) && FLOATING.contains(comparedAs)
                || TIMES.contains(kind) && TIMES.contains(comparedAs) && comparedAs != Kind.DATE;
    }
}
