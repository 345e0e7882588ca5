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

    private TimeText() {}

    /** {@code YYYY-MM-DD HH:MM:SS[.fraction]}, the fraction without trailing zeros. */
    public static String timestamp(LocalDateTime value) {
        return value.toLocalDate() + " " + time(value.toLocalTime().toNanoOfDay());
    }

    /** {@code [-]HH:MM:SS[.fraction]}, the fraction without trailing zeros. */
    public static String time(long nanos) {
        long positive = Math.abs(nanos);
        long seconds = positive / NANOS_PER_SECOND;
        String text =
                "%s%02d:%02d:%02d".formatted(nanos < 0 ? "-" : "", seconds / 3600, seconds / 60 % 60, seconds % 60);
        long fraction = positive % NANOS_PER_SECOND;
        return fraction == 0 ? text : text + "." + "%09d".formatted(fraction).replaceAll("0+$", "");
    }

    /** A date, or a date with a time without zone; empty for any other text. A date alone is read as its midnight. */
    public static Optional<LocalDateTime> readTimestamp(String text) {
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
