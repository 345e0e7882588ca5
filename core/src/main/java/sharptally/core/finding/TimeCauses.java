package sharptally.core.finding;

import static sharptally.core.finding.LikelyCause.amount;
import static sharptally.core.finding.LikelyCause.fact;
import static sharptally.core.finding.LikelyCause.guess;

import java.time.Duration;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.Optional;
import sharptally.core.types.TimeText;
import sharptally.core.types.Value;

/** What may have made two dates or times differ. */
final class TimeCauses {
    private static final int MINUTES_OF_ZONE_STEP = 15;
    private static final int MAX_ZONE_HOURS = 26;
    private static final int DIGITS_OF_SECOND = 9;

    private TimeCauses() {}

    static void ofTimes(List<LikelyCause> found, Value sourceValue, Value targetValue) {
        Optional<LocalDateTime> first = time(sourceValue);
        Optional<LocalDateTime> second = time(targetValue);
        if (first.isEmpty() || second.isEmpty()) {
            return;
        }
        LocalDateTime source = first.get();
        LocalDateTime target = second.get();
        Duration off = Duration.between(source, target);
        if (off.isZero()) {
            // They are told apart by a zone that one of them has.
            found.add(fact("zone not applied", 0));
            return;
        }
        if (target.toLocalTime().toNanoOfDay() == 0 && source.toLocalDate().equals(target.toLocalDate())) {
            found.add(fact("time of day lost", 10));
        }
        fraction(found, source, target);
        if (source.toLocalTime().equals(target.toLocalTime())) {
            calendar(found, source.toLocalDate(), target.toLocalDate());
        }
        shift(found, off);
    }

    static void ofDates(List<LikelyCause> found, Value sourceValue, Value targetValue) {
        Optional<LocalDateTime> source = date(sourceValue);
        Optional<LocalDateTime> target = date(targetValue);
        if (source.isPresent() && target.isPresent() && !source.equals(target)) {
            calendar(found, source.get().toLocalDate(), target.get().toLocalDate());
        }
    }

    private static Optional<LocalDateTime> time(Value value) {
        return TimeText.readTimestamp(value.toString().replace("Z", ""));
    }

    private static Optional<LocalDateTime> date(Value value) {
        return value instanceof Value.Date date
                ? Optional.of(date.value().atStartOfDay())
                : TimeText.readTimestamp(value + " 00:00:00");
    }

    /** Digits of a second that can have been lost. */
    private static void fraction(List<LikelyCause> found, LocalDateTime source, LocalDateTime target) {
        if (Duration.between(source, target).abs().compareTo(Duration.ofSeconds(1)) > 0) {
            return;
        }
        for (int digits = 0; digits < DIGITS_OF_SECOND; digits++) {
            long step = (long) Math.pow(10, DIGITS_OF_SECOND - digits);
            long rest = source.getNano() % step;
            if (rest == 0) {
                return;
            }
            String words =
                    digits == 0 ? "whole seconds" : digits + (digits == 1 ? " digit" : " digits") + " of a second";
            LocalDateTime cut = source.minusNanos(rest);
            if (cut.equals(target)) {
                found.add(guess("cut to " + words, 20 + digits));
            }
            if ((2 * rest >= step ? cut.plusNanos(step) : cut).equals(target)) {
                found.add(guess("rounded to " + words, 30 + digits));
            }
        }
    }

    private static void calendar(List<LikelyCause> found, LocalDate source, LocalDate target) {
        if (source.getYear() == target.getYear()
                && source.getMonthValue() == target.getDayOfMonth()
                && source.getDayOfMonth() == target.getMonthValue()) {
            found.add(guess("day and month swapped", 40));
        }
        if (source.equals(target)) {
            return;
        }
        long days = ChronoUnit.DAYS.between(source, target);
        if (source.getMonth() == target.getMonth() && source.getDayOfMonth() == target.getDayOfMonth()) {
            found.add(amount("off by " + counted(target.getYear() - (long) source.getYear(), "year"), 50));
        }
        found.add(amount("off by " + counted(days, "day"), 60));
    }

    private static void shift(List<LikelyCause> found, Duration off) {
        Duration size = off.abs();
        String sign = off.isNegative() ? "-" : "+";
        boolean wholeSteps = size.getNano() == 0 && size.getSeconds() % (60L * MINUTES_OF_ZONE_STEP) == 0;
        if (wholeSteps && size.toHours() < MAX_ZONE_HOURS && size.toHours() != 24) {
            long minutes = size.toMinutesPart();
            found.add(guess(
                    "off by " + sign + size.toHours() + (minutes == 0 ? "" : ":" + minutes)
                            + (size.toHours() == 1 && minutes == 0 ? " hour" : " hours"),
                    55));
            return;
        }
        if (size.getSeconds() % Duration.ofDays(1).toSeconds() != 0 || size.getNano() != 0) {
            found.add(amount("off by " + sign + clock(size), 90));
        }
    }

    private static String clock(Duration size) {
        String fraction = size.getNano() == 0
                ? ""
                : "."
                        + String.format(java.util.Locale.ROOT, "%09d", size.getNano())
                                .replaceAll("0+$", "");
        return (size.toDays() == 0 ? "" : counted(size.toDays(), "day").substring(1) + " ")
                + String.format(
                        java.util.Locale.ROOT,
                        "%d:%02d:%02d",
                        size.toHoursPart(),
                        size.toMinutesPart(),
                        size.toSecondsPart())
                + fraction;
    }

    private static String counted(long number, String word) {
        return (number > 0 ? "+" : "") + number + " " + word + (Math.abs(number) == 1 ? "" : "s");
    }
}
