package sharptally.core.accept;

import java.math.BigDecimal;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * How many rows of a match may differ beside those that are accepted: a number of rows, or a share of the rows of the side
 * that has more.
 *
 * @param number of rows, or percent
 */
public record AtMost(BigDecimal number, boolean percent) {
    private static final Pattern FORM =
            Pattern.compile("(\\d{1,15}) *(?:rows?)?|(\\d{1,3}(?:\\.\\d{1,9})?) *%", Pattern.CASE_INSENSITIVE);

    private static final BigDecimal WHOLE = BigDecimal.valueOf(100);

    /** Empty where the text is neither {@code 20 rows} nor {@code 0.01%}. */
    public static Optional<AtMost> parse(String text) {
        Matcher parts = FORM.matcher(text.strip());
        if (!parts.matches()) {
            return Optional.empty();
        }
        boolean percent = parts.group(1) == null;
        BigDecimal number = new BigDecimal(percent ? parts.group(2) : parts.group(1));
        return percent && number.compareTo(WHOLE) > 0 ? Optional.empty() : Optional.of(new AtMost(number, percent));
    }

    /** Whether so many differing rows are no more than it. */
    public boolean allows(long differing, long sourceRows, long targetRows) {
        BigDecimal rows = BigDecimal.valueOf(differing);
        return percent
                ? rows.multiply(WHOLE).compareTo(number.multiply(BigDecimal.valueOf(Math.max(sourceRows, targetRows))))
                        <= 0
                : rows.compareTo(number) <= 0;
    }

    @Override
    public String toString() {
        return percent
                ? number.stripTrailingZeros().toPlainString() + "%"
                : number.toPlainString() + (number.equals(BigDecimal.ONE) ? " row" : " rows");
    }
}
