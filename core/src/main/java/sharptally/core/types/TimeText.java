package sharptally.core.types;

import java.time.DateTimeException;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.ZoneOffset;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Dates and times as text: one written form, and the ISO forms that are read. */
public final class TimeText {
    private static final long NANOS_PER_SECOND = 1_000_000_000L;
    private static final Pattern DATE_TIME = Pattern.compile(
            "([+-]?\\d{4,9})-(\\d\\d)-(\\d\\d)(?:[ T](\\d\\d):(\\d\\d)(?::(\\d\\d)(?:\\.(\\d{1,9})0*)?)?)?");
    private static final Pattern TIME = Pattern.compile("(-?)(\\d{1,6}):(\\d\\d)(?::(\\d\\d)(?:\\.(\\d{1,9})0*)?)?");

    private static final Pattern OFFSET = Pattern.compile("(.{10,}?) ?(Z|[+-]\\d\\d(?::?\\d\\d)?|)");

    /** Letters of a timestamp to the second. */
    private static final int USUAL_LENGTH = 19;

    private TimeText() {}

    /** {@code YYYY-MM-DD HH:MM:SS[.fraction]}, the fraction without trailing zeros. */
    public static String timestamp(LocalDateTime value) {
        return value.toLocalDate() + " " + time(value.toLocalTime().toNanoOfDay());
    }

    /** {@code [-]HH:MM:SS[.fraction]}, the fraction without trailing zeros. */
    public static String time(long nanos) {
        long positive = Math.abs(nanos);
        long seconds = positive / NANOS_PER_SECOND;
        StringBuilder text = new StringBuilder(18);
        if (nanos < 0) {
            text.append('-');
        }
        padded(text, seconds / 3600, 2).append(':');
        padded(text, seconds / 60 % 60, 2).append(':');
        padded(text, seconds % 60, 2);
        long fraction = positive % NANOS_PER_SECOND;
        if (fraction > 0) {
            padded(text.append('.'), fraction, 9);
            while (text.charAt(text.length() - 1) == '0') {
                text.setLength(text.length() - 1);
            }
        }
        return text.toString();
    }

    /** Appends a number that is not negative, with at least so many digits; millions of times are written. */
    private static StringBuilder padded(StringBuilder text, long number, int digits) {
        long limit = 10;
        for (int i = 1; i < digits; i++) {
            limit *= 10;
        }
        for (long step = limit / 10; step > Math.max(1, number); step /= 10) {
            text.append('0');
        }
        return text.append(number);
    }

    /** A date, or a date with a time without zone; empty for any other text. A date alone is read as its midnight. */
    public static Optional<LocalDateTime> readTimestamp(String text) {
        int length = text.length();
        boolean usual = length >= USUAL_LENGTH
                && length <= USUAL_LENGTH + 1 + 9
                && text.charAt(4) == '-'
                && text.charAt(7) == '-'
                && (text.charAt(10) == ' ' || text.charAt(10) == 'T')
                && text.charAt(13) == ':'
                && text.charAt(16) == ':'
                && (length == USUAL_LENGTH || length > USUAL_LENGTH + 1 && text.charAt(USUAL_LENGTH) == '.');
        return usual ? readUsual(text) : readAnyForm(text);
    }

    /** The form that nearly all timestamps have, without the cost of a pattern: millions of them are read. */
    private static Optional<LocalDateTime> readUsual(String text) {
        int year = digits(text, 0, 4);
        int month = digits(text, 5, 7);
        int day = digits(text, 8, 10);
        int hour = digits(text, 11, 13);
        int minute = digits(text, 14, 16);
        int second = digits(text, 17, 19);
        int nanos = 0;
        if (text.length() > USUAL_LENGTH) {
            nanos = digits(text, USUAL_LENGTH + 1, text.length());
            for (int i = text.length() - USUAL_LENGTH - 1; i < 9 && nanos > 0; i++) {
                nanos *= 10;
            }
        }
        if ((year | month | day | hour | minute | second | nanos) < 0) {
            return Optional.empty();
        }
        try {
            return Optional.of(LocalDateTime.of(year, month, day, hour, minute, second, nanos));
        } catch (DateTimeException e) {
            return Optional.empty();
        }
    }

    /** The number that the digits from one place up to another say; -1 when one of them is none. */
    private static int digits(String text, int from, int to) {
        int number = 0;
        for (int i = from; i < to; i++) {
            int digit = text.charAt(i) - '0';
            if (digit < 0 || digit > 9) {
                return -1;
            }
            number = number * 10 + digit;
        }
        return number;
    }

    private static Optional<LocalDateTime> readAnyForm(String text) {
        Matcher matcher = DATE_TIME.matcher(text);
        if (!matcher.matches()) {
            return Optional.empty();
        }
        try {
            LocalDate date = LocalDate.of(
                    Integer.parseInt(matcher.group(1)),
                    Integer.parseInt(matcher.group(2)),
                    Integer.parseInt(matcher.group(3)));
            if (matcher.group(4) == null) {
                return Optional.of(date.atStartOfDay());
            }
            return Optional.of(date.atTime(LocalTime.of(
                    Integer.parseInt(matcher.group(4)),
                    Integer.parseInt(matcher.group(5)),
                    matcher.group(6) == null ? 0 : Integer.parseInt(matcher.group(6)),
                    fraction(matcher.group(7)))));
        } catch (DateTimeException e) {
            return Optional.empty();
        }
    }

    /** A date and time with a zone offset, or without one, which is then taken as UTC; empty for any other text. */
    public static Optional<Instant> readInstant(String text) {
        Matcher matcher = OFFSET.matcher(text);
        if (!matcher.matches()) {
            return Optional.empty();
        }
        try {
            ZoneOffset offset = matcher.group(2).isEmpty() ? ZoneOffset.UTC : ZoneOffset.of(matcher.group(2));
            return readTimestamp(matcher.group(1)).map(t -> t.toInstant(offset));
        } catch (DateTimeException e) {
            return Optional.empty();
        }
    }

    /** Nanoseconds since midnight; empty for text that is not a time. */
    public static Optional<Long> readTime(String text) {
        Matcher matcher = TIME.matcher(text);
        if (!matcher.matches()
                || Integer.parseInt(matcher.group(3)) > 59
                || matcher.group(4) != null && Integer.parseInt(matcher.group(4)) > 59) {
            return Optional.empty();
        }
        long seconds = Long.parseLong(matcher.group(2)) * 3600
                + Long.parseLong(matcher.group(3)) * 60
                + (matcher.group(4) == null ? 0 : Long.parseLong(matcher.group(4)));
        long nanos = seconds * NANOS_PER_SECOND + fraction(matcher.group(5));
        return Optional.of(matcher.group(1).isEmpty() ? nanos : -nanos);
    }

    private static int fraction(@org.jspecify.annotations.Nullable String digits) {
        return digits == null ? 0 : Integer.parseInt((digits + "000000000").substring(0, 9));
    }
}
