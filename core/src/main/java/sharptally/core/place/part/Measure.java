package sharptally.core.place.part;

import java.util.Arrays;
import java.util.EnumSet;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import sharptally.core.types.Kind;

/** What can be told of the values of one column, or of a table, without reading them out. */
public enum Measure {
    /** Rows, whatever they hold. */
    ROWS,
    /** Values that are not NULL. */
    FILLED,
    /** Different values, NULL aside; text by its bytes. */
    DISTINCT,
    /** The sum; exact but for floating values. */
    SUM,
    /** The least value; text by its bytes. */
    MIN,
    /** The greatest value; text by its bytes. */
    MAX,
    /** The sum over the number of values; worked out here, not by a database. */
    MEAN,
    /** Bytes of all values together; of text in UTF-8. */
    LENGTH;

    private static final Set<Kind> NUMBERS = EnumSet.of(Kind.INTEGER, Kind.DECIMAL, Kind.FLOAT, Kind.DOUBLE);
    private static final Set<Kind> TIMES = EnumSet.of(Kind.DATE, Kind.TIME, Kind.TIMESTAMP, Kind.INSTANT);

    /** Whether the measure means something, and the same in every engine, for values of this kind. */
    public boolean fits(Kind kind) {
        return switch (this) {
            case ROWS -> false;
            case FILLED -> true;
            case SUM, MEAN -> NUMBERS.contains(kind);
            case MIN, MAX -> NUMBERS.contains(kind) || TIMES.contains(kind) || kind == Kind.TEXT;
            case LENGTH -> kind == Kind.TEXT || kind == Kind.BYTES;
            case DISTINCT -> kind != Kind.JSON && kind != Kind.OTHER && kind != Kind.BITS;
        };
    }

    /** The figures that a word stands for: one, or {@code all}; empty when there is no such word. */
    public static Optional<Set<Measure>> named(String word) {
        if (word.equals("all")) {
            return Optional.of(EnumSet.allOf(Measure.class));
        }
        return Arrays.stream(values())
                .filter(m -> m.word().equals(word))
                .findFirst()
                .map(Set::of);
    }

    /** The word that users read and write. */
    public String word() {
        return name().toLowerCase(Locale.ROOT);
    }

    @Override
    public String toString() {
        return word();
    }
}
