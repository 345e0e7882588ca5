package sharptally.core.types;

/**
 * What a column holds, in terms that all engines share.
 *
 * @param padded values are filled up with trailing blanks that carry no meaning (CHAR)
 */
public record CanonicalType(Kind kind, boolean padded) {
    public static CanonicalType of(Kind kind) {
        return new CanonicalType(kind, false);
    }

    public static CanonicalType paddedText() {
        return new CanonicalType(Kind.TEXT, true);
    }

    @Override
    public String toString() {
        String name = kind.name().toLowerCase(java.util.Locale.ROOT);
        return padded ? name + " (padded)" : name;
    }
}
