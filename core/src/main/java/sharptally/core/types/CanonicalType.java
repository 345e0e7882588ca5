package sharptally.core.types;

import java.util.Locale;
import java.util.Optional;

/**
 * What a column holds, in terms that all engines share.
 *
 * @param padded values are filled up with trailing blanks that carry no meaning (CHAR)
 * @param digits digits of a second that a time can hold; {@link #ANY_DIGITS} where there is no limit or no time
 * @param family for {@link Kind#OTHER}, the engine and its own type, which alone can be compared with itself; for text that
 *     is the writing of any value, or of which an empty one is NULL, a word of ours
 */
public record CanonicalType(Kind kind, boolean padded, int digits, String family) {
    public static final int ANY_DIGITS = 9;

    private static final String WRITTEN = "written";
    private static final String NEVER_EMPTY = "never empty";

    public static CanonicalType of(Kind kind) {
        return new CanonicalType(kind, false, ANY_DIGITS, "");
    }

    /**
     * What a column of a text file holds: the writing of a value whose type only the other side tells. Against text it is
     * text. Where the file tells a type itself, that counts as long as the other side has none.
     */
    public static CanonicalType written() {
        return new CanonicalType(Kind.TEXT, false, ANY_DIGITS, WRITTEN);
    }

    public boolean isWritten() {
        return family.equals(WRITTEN);
    }

    /** The same writing, which is compared with text whose trailing blanks carry no meaning. */
    public CanonicalType writtenPadded() {
        return new CanonicalType(Kind.TEXT, true, ANY_DIGITS, WRITTEN);
    }

    /** The same writing, whose values are read as this. */
    public CanonicalType writtenAs(Kind other) {
        return writtenAs(other, digits);
    }

    /** The same writing, whose values are read as this, with so many digits of a second. */
    public CanonicalType writtenAs(Kind other, int ofSecond) {
        return new CanonicalType(other, false, ofSecond, WRITTEN);
    }

    /**
     * The kind in which values of two columns are compared with each other, or empty when there is none that is faithful to
     * both. Symmetric.
     */
    public static Optional<Kind> common(CanonicalType one, CanonicalType other) {
        if (one.isWritten() && other.isWritten()) {
            boolean told = one.kind != Kind.TEXT && other.kind != Kind.TEXT;
            Kind either = one.kind != Kind.TEXT ? one.kind : other.kind;
            return told ? Kind.common(one.kind, other.kind).or(() -> Optional.of(Kind.TEXT)) : Optional.of(either);
        } else if (one.isWritten() || other.isWritten()) {
            Kind declared = (one.isWritten() ? other : one).kind;
            return declared == Kind.OTHER
                    ? Optional.of(Kind.TEXT)
                    : declared == Kind.BYTES ? Optional.of(Kind.BYTES) : Kind.common(Kind.TEXT, declared);
        }
        return Kind.common(one.kind, other.kind).filter(k -> k != Kind.OTHER || one.equals(other));
    }

    /** Text of an engine that takes an empty one for NULL. */
    public static CanonicalType textNeverEmpty() {
        return new CanonicalType(Kind.TEXT, false, ANY_DIGITS, NEVER_EMPTY);
    }

    public boolean isNeverEmpty() {
        return family.equals(NEVER_EMPTY);
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
