package sharptally.core.types;

import java.util.Locale;

/**
 * What a column holds, in terms that all engines share.
 *
 * @param padded values are filled up with trailing blanks that carry no meaning (CHAR)
 * @param digits digits of a second that a time can hold; {@link #ANY_DIGITS} where there is no limit or no time
 * @param family for {@link Kind#OTHER}, the engine and its own type, which alone can be compared with itself
 */
public record CanonicalType(Kind kind, boolean padded, int digits, String family) {
    public static final int ANY_DIGITS = 9;

    public static CanonicalType of(Kind kind) {
        return new CanonicalType(kind, false, ANY_DIGITS, "");
    }

    public static CanonicalType paddedText() {
        return new CanonicalType(Kind.TEXT, true, ANY_DIGITS, "");
    }

    /** A time, timestamp or instant to so many digits of a second. */
    public static CanonicalType time(Kind kind, int digits) {
        return new CanonicalType(kind, false, Math.min(digits, ANY_DIGITS), "");
    }

    /** An engine's own type, compared by its text. */
    public static CanonicalType other(String engine, String type) {
        return new CanonicalType(Kind.OTHER, false, ANY_DIGITS, engine + " " + type);
    }

    @Override
    public String toString() {
        String name = kind == Kind.OTHER ? family : kind.name().toLowerCase(Locale.ROOT);
        return padded ? name + " (padded)" : name;
    }
}
