package sharptally.core.match.text;

import java.time.Clock;
import java.time.DayOfWeek;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.time.temporal.ChronoUnit;
import java.time.temporal.TemporalAdjusters;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A time as it is from now: {@code 90m}, {@code 12h}, {@code 7d}, {@code 2w}, {@code 3mo}, {@code 1y} ago, or the beginning of
 * {@code today}, {@code yesterday}, {@code this-week}, {@code last-week}, {@code this-month}, {@code last-month}, {@code
 * this-year} or {@code last-year}; in UTC, so that it is the same for both sides. From a day on it is the beginning of that
 * day, a date; weeks begin on Monday.
 */
public final class RelativeTime {
    private static final Pattern AGO = Pattern.compile("([1-9]\\d{0,4})(m|h|d|w|mo|y)");
    private static final Pattern NAMED = Pattern.compile("(today|yesterday|(this|last)-(week|month|year))");
    private static final Pattern IN_TEXT = Pattern.compile("(?<!\\$)\\$\\{time:([^}]*)\\}");
    private static final DateTimeFormatter SECONDS = DateTimeFormatter.ofPattern("uuuu-MM-dd HH:mm:ss", Locale.ROOT);

    private RelativeTime() {}

    /** The time as text, such as {@code 2026-03-01} or {@code 2026-03-01 12:30:00}; empty where the words are no such time. */
    public static Optional<String> parse(String words, Clock clock) {
        LocalDateTime now = LocalDateTime.ofInstant(clock.instant(), ZoneOffset.UTC);
        Matcher ago = AGO.matcher(words);
        if (ago.matches()) {
            long n = Long.parseLong(ago.group(1));
            return Optional.of(
                    switch (ago.group(2)) {
                        case "m" -> SECONDS.format(now.minusMinutes(n));
                        case "h" -> SECONDS.format(now.minusHours(n));
                        case "d" -> day(now.toLocalDate().minusDays(n));
                        case "w" -> day(now.toLocalDate().minusWeeks(n));
                        case "mo" -> day(now.toLocalDate().minusMonths(n));
                        default -> day(now.toLocalDate().minusYears(n));
                    });
        }
        Matcher named = NAMED.matcher(words);
        return named.matches() ? Optional.of(day(named(now.toLocalDate(), named))) : Optional.empty();
    }

    private static LocalDate named(LocalDate today, Matcher named) {
        if (named.group(2) == null) {
            return named.group(1).equals("today") ? today : today.minusDays(1);
        }
        long back = named.group(2).equals("last") ? 1 : 0;
        return switch (named.group(3)) {
            case "week" ->
                today.with(TemporalAdjusters.previousOrSame(DayOfWeek.MONDAY)).minus(back, ChronoUnit.WEEKS);
            case "month" -> today.withDayOfMonth(1).minusMonths(back);
            default -> today.withDayOfYear(1).minusYears(back);
        };
    }

    private static String day(LocalDate date) {
        return date.toString();
    }

    /**
     * A text with each <code>${time:WORDS}</code> in it replaced.
     *
     * @throws IllegalArgumentException when words are no time
     */
    public static String filled(String text, Clock clock) {
        return IN_TEXT.matcher(text)
                .replaceAll(m -> Matcher.quoteReplacement(parse(m.group(1), clock)
                        .orElseThrow(() -> new IllegalArgumentException("not a time: ${time:" + m.group(1)
                                + "}; write such as ${time:7d}, ${time:12h}, ${time:today} or ${time:last-month}"))));
    }
}
