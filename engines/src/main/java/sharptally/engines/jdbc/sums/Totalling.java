package sharptally.engines.jdbc.sums;

import java.util.Locale;
import java.util.Optional;
import java.util.function.UnaryOperator;
import sharptally.core.place.part.TimeUnit;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;

/**
 * How one engine works out totals, so that equal rows give equal figures in every engine. Each is a piece of SQL in which
 * {@code %s} stands for the column's quoted name; empty where the engine has no form that others share. Immutable.
 *
 * @param wholeSum the exact sum of whole numbers
 * @param decimalSum the exact sum of decimals
 * @param floatingSum the sum as a floating value of 64 bits
 * @param text text as it is ordered and told apart: by its UTF-8 bytes
 * @param paddedText the same of text with padding, which carries no meaning
 * @param fromText what {@link #text} was, as text again; here {@code %s} is any expression
 * @param ordersText whether MIN and MAX of {@link #text} go by its UTF-8 bytes
 * @param textLength the bytes of a text in UTF-8; here {@code %s} is {@link #text}
 * @param bytesLength the bytes of a byte string
 * @param span the first {@code %d} letters of a date or time as ISO text
 * @param instantSpan the same of a time with zone, in UTC
 */
public record Totalling(
        UnaryOperator<String> quote,
        String wholeSum,
        String decimalSum,
        String floatingSum,
        String text,
        String paddedText,
        String fromText,
        boolean ordersText,
        Optional<String> textLength,
        Optional<String> bytesLength,
        Optional<String> span,
        Optional<String> instantSpan) {

    private static Kind kind(ColumnShape column) {
        return column.type().map(CanonicalType::kind).orElse(Kind.OTHER);
    }

    private String name(ColumnShape column) {
        return quote.apply(column.name());
    }

    public String exactSum(ColumnShape column) {
        return String.format(Locale.ROOT, kind(column) == Kind.INTEGER ? wholeSum : decimalSum, name(column));
    }

    public String floatingSum(ColumnShape column) {
        return String.format(Locale.ROOT, floatingSum, name(column));
    }

    /** What was added up without signs: how large the error of a sum may be hangs on that. */
    public String absoluteSum(ColumnShape column) {
        return String.format(Locale.ROOT, floatingSum, "abs(" + name(column) + ")");
    }

    /** What stands within MIN and MAX. */
    public Optional<String> ordered(ColumnShape column) {
        return kind(column) == Kind.TEXT && !ordersText ? Optional.empty() : Optional.of(distinct(column));
    }

    /** What stands within COUNT(DISTINCT …) and GROUP BY: equal only where the values are. */
    public String distinct(ColumnShape column) {
        if (kind(column) != Kind.TEXT) {
            return name(column);
        }
        boolean padded = column.type().filter(CanonicalType::padded).isPresent();
        return String.format(Locale.ROOT, padded ? paddedText : text, name(column));
    }

    /** What an expression over {@link #distinct} gives back, as a value of the column's own type. */
    public String fromDistinct(ColumnShape column, String expression) {
        return kind(column) == Kind.TEXT ? String.format(Locale.ROOT, fromText, expression) : expression;
    }

    public Optional<String> length(ColumnShape column) {
        return (kind(column) == Kind.TEXT ? textLength : bytesLength)
                .map(l -> String.format(Locale.ROOT, l, distinct(column)));
    }

    public Optional<String> span(ColumnShape column, TimeUnit unit) {
        return (kind(column) == Kind.INSTANT ? instantSpan : span)
                .map(s -> String.format(Locale.ROOT, s, name(column), unit.letters()));
    }
}
