package sharptally.core.totals;

import java.math.BigDecimal;
import java.util.Arrays;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import sharptally.core.place.part.Measure;
import sharptally.core.shape.RowFilter.Comparison;

/**
 * What one figure of one table should be, as users write it: {@code rows >= 150000}, {@code nulls(level_m) = 0},
 * {@code max(taken_at) < '2027-01-01'}.
 *
 * @param text as written
 * @param measure empty for {@code nulls}, which is rows less filled values
 * @param column empty for {@code rows}
 * @param value a number, or a text or time without its quotes
 */
public record Expectation(
        String text, Optional<Measure> measure, Optional<String> column, Comparison comparison, String value) {
    private static final Pattern FORM = Pattern.compile(
            "\\s*([a-z]+)\\s*(?:\\(\\s*(.+?)\\s*\\))?\\s*(<=|>=|!=|<>|=|<|>)\\s*(" + Value.ANY + ")\\s*");

    /** What a figure is compared with: nothing else may stand behind the sign. */
    private static final class Value {
        static final String NUMBER = "[+-]?(?:\\d+(?:\\.\\d*)?|\\.\\d+)(?:[eE][+-]?\\d{1,4})?";
        static final String ANY = NUMBER + "|'[^']*'|\"[^\"]*\"|[\\w:.+-]+";
    }

    /** Empty when the text is not of this form. */
    public static Optional<Expectation> parse(String text) {
        Matcher form = FORM.matcher(text);
        if (!form.matches()) {
            return Optional.empty();
        }
        Optional<Measure> measure = Arrays.stream(Measure.values())
                .filter(m -> m.word().equals(form.group(1)))
                .findFirst();
        boolean nulls = form.group(1).equals("nulls");
        Optional<String> column = Optional.ofNullable(form.group(2)).map(Expectation::unquoted);
        boolean needsColumn = nulls || measure.filter(m -> m != Measure.ROWS).isPresent();
        boolean least =
                measure.filter(m -> m == Measure.MIN || m == Measure.MAX).isPresent();
        if (!least && !form.group(4).matches(Value.NUMBER)) {
            return Optional.empty();
        }
        if (measure.isEmpty() && !nulls || column.isPresent() != needsColumn) {
            return Optional.empty();
        }
        return Optional.of(new Expectation(
                text.strip(), measure, column, Comparison.of(form.group(3)).orElseThrow(), unquoted(form.group(4))));
    }

    private static String unquoted(String text) {
        boolean quoted = text.length() > 1
                && (text.charAt(0) == '\'' || text.charAt(0) == '"')
                && text.charAt(text.length() - 1) == text.charAt(0);
        return quoted ? text.substring(1, text.length() - 1) : text;
    }

    /**
     * Whether a figure is as expected; numbers are compared with numbers, everything else as text.
     *
     * @param figure empty when there is none, as for the sum of no row: that holds nothing but {@code !=}
     */
    public boolean isHeldBy(Optional<String> figure) {
        if (figure.isEmpty()) {
            return comparison == Comparison.OTHER;
        }
        try {
            return comparison.holds(new BigDecimal(figure.get()).compareTo(new BigDecimal(value)));
        } catch (NumberFormatException e) {
            return comparison.holds(figure.get().replace('T', ' ').compareTo(value.replace('T', ' ')));
        }
    }
}
