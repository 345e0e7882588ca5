package sharptally.core.finding;

import java.math.BigDecimal;
import java.math.MathContext;
import java.math.RoundingMode;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.text.Normalizer;
import java.time.Duration;
import java.time.LocalDateTime;
import java.util.Optional;
import sharptally.core.types.Kind;
import sharptally.core.types.TimeText;
import sharptally.core.types.Value;

/**
 * What most likely made two values of one column differ, told from the values alone: a guess that helps to find the
 * fault, never a reason to hold them equal.
 */
public final class LikelyCause {
    private static final int MAX_SCALE_STEPS = 9;
    /** Digits of an amount that are told, so that noise counts as one cause. */
    private static final MathContext TOLD = new MathContext(6);

    private static final int DIGITS_OF_NOISE = 6;
    private static final int MINUTES_OF_ZONE_STEP = 15;
    private static final int MAX_ZONE_HOURS = 26;
    private static final Charset WESTERN = Charset.forName("windows-1252");

    private LikelyCause() {}

    /**
     * A few words, the same for all pairs of one cause, such as {@code trailing spaces} or {@code times 1000}; empty
     * where nothing is known.
     *
     * @param comparedAs what the column is compared as
     */
    public static Optional<String> of(Kind comparedAs, Value source, Value target) {
        if (source instanceof Value.Null || target instanceof Value.Null) {
            return Optional.of(ofNull(source, target));
        }
        return switch (comparedAs) {
            case INTEGER, DECIMAL, FLOAT, DOUBLE ->
                number(source).flatMap(s -> number(target).map(t -> ofNumbers(s, t)));
            case TIMESTAMP, INSTANT -> time(source).flatMap(s -> time(target).flatMap(t -> ofTimes(s, t)));
            case DATE -> date(source).flatMap(s -> date(target).flatMap(t -> ofTimes(s, t)));
            case BOOLEAN -> Optional.of("turned round");
            case TEXT, ANY, OTHER -> ofTexts(source.toString(), target.toString());
            default -> Optional.empty();
        };
    }

    private static String ofNull(Value source, Value target) {
        if (source instanceof Value.Null) {
            return target.toString().isEmpty() ? "NULL to empty" : "NULL to a value";
        }
        return source.toString().isEmpty() ? "empty to NULL" : "a value to NULL";
    }

    private static Optional<BigDecimal> number(Value value) {
        try {
            return Optional.of(new BigDecimal(value.toString()));
        } catch (NumberFormatException e) {
            return Optional.empty();
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

    private static String ofNumbers(BigDecimal source, BigDecimal target) {
        if (source.compareTo(target.negate()) == 0) {
            return "sign turned";
        }
        if (target.signum() == 0) {
            return "a value to zero";
        }
        for (int steps = 1; steps <= MAX_SCALE_STEPS; steps++) {
            if (source.scaleByPowerOfTen(steps).compareTo(target) == 0) {
                return "times " + BigDecimal.ONE.scaleByPowerOfTen(steps).toPlainString();
            }
            if (source.scaleByPowerOfTen(-steps).compareTo(target) == 0) {
                return "divided by " + BigDecimal.ONE.scaleByPowerOfTen(steps).toPlainString();
            }
        }
        BigDecimal off = target.subtract(source);
        int decimals = Math.max(0, target.stripTrailingZeros().scale());
        if (source.stripTrailingZeros().scale() > decimals) {
            if (source.setScale(decimals, RoundingMode.HALF_UP).compareTo(target) == 0
                    || source.setScale(decimals, RoundingMode.HALF_EVEN).compareTo(target) == 0) {
                return "rounded to " + decimals + " decimals";
            }
            if (source.setScale(decimals, RoundingMode.DOWN).compareTo(target) == 0) {
                return "cut to " + decimals + " decimals";
            }
        }
        BigDecimal least = source.abs().scaleByPowerOfTen(-DIGITS_OF_NOISE);
        if (off.abs().compareTo(least) < 0) {
            return "the same to " + DIGITS_OF_NOISE + " digits";
        }
        return "off by " + (off.signum() > 0 ? "+" : "")
                + off.round(TOLD).stripTrailingZeros().toPlainString();
    }

    private static Optional<String> ofTimes(LocalDateTime source, LocalDateTime target) {
        Duration off = Duration.between(source, target);
        String sign = off.isNegative() ? "-" : "+";
        Duration size = off.abs();
        if (size.isZero()) {
            // They are told apart by a zone that one of them has.
            return Optional.of("zone not applied");
        }
        if (target.toLocalTime().toNanoOfDay() == 0 && source.toLocalDate().equals(target.toLocalDate())) {
            return Optional.of("time of day lost");
        }
        if (size.compareTo(Duration.ofSeconds(1)) < 0) {
            return Optional.of("fraction of a second");
        }
        boolean wholeSteps = size.getNano() == 0 && size.getSeconds() % (60L * MINUTES_OF_ZONE_STEP) == 0;
        if (wholeSteps && size.toHours() < MAX_ZONE_HOURS) {
            long minutes = size.toMinutes() % 60;
            return Optional.of("off by " + sign + size.toHours() + (minutes == 0 ? "" : ":" + minutes)
                    + (size.toHours() == 1 && minutes == 0 ? " hour" : " hours"));
        }
        if (wholeSteps && size.toHours() % 24 == 0) {
            return Optional.of("off by " + sign + size.toDays() + " days");
        }
        return Optional.empty();
    }

    private static Optional<String> ofTexts(String source, String target) {
        if (source.stripTrailing().equals(target.stripTrailing())) {
            return Optional.of("trailing spaces");
        }
        if (source.strip().equals(target.strip())) {
            return Optional.of("spaces around");
        }
        if (lines(source).equals(lines(target))) {
            return Optional.of("line ends");
        }
        if (squeezed(source).equals(squeezed(target))) {
            return Optional.of("spaces within");
        }
        if (source.equalsIgnoreCase(target)) {
            return Optional.of("letter case");
        }
        if (Normalizer.normalize(source, Normalizer.Form.NFC)
                .equals(Normalizer.normalize(target, Normalizer.Form.NFC))) {
            return Optional.of("form of accents");
        }
        if (Normalizer.normalize(source, Normalizer.Form.NFD)
                .replaceAll("\\p{M}", "")
                .equals(target)) {
            return Optional.of("accents lost");
        }
        if (isMisread(source, target) || isMisread(target, source)) {
            return Optional.of("encoding");
        }
        if (withoutLost(source).equals(withoutLost(target)) && isLossy(source, target)) {
            return Optional.of("letters lost in encoding");
        }
        if (!target.isEmpty() && source.startsWith(target)) {
            return Optional.of("cut at " + target.codePointCount(0, target.length()) + " characters");
        }
        return target.isEmpty() ? Optional.of("a value to empty") : Optional.empty();
    }

    private static String lines(String text) {
        return text.replace("\r\n", "\n").replace('\r', '\n');
    }

    private static String squeezed(String text) {
        return text.strip().replaceAll("\\s+", " ");
    }

    /** Whether one is the other's UTF-8 read as a western one-byte encoding. */
    private static boolean isMisread(String right, String wrong) {
        byte[] bytes = right.getBytes(StandardCharsets.UTF_8);
        return bytes.length != right.length()
                && (new String(bytes, WESTERN).equals(wrong)
                        || new String(bytes, StandardCharsets.ISO_8859_1).equals(wrong));
    }

    private static boolean isLossy(String source, String target) {
        return (target.indexOf('?') >= 0 || target.indexOf('\uFFFD') >= 0)
                && source.chars().anyMatch(c -> c > 0x7F);
    }

    private static String withoutLost(String text) {
        return text.replaceAll("[^\\x00-\\x7F]|\\?", "?").replaceAll("\\?+", "?");
    }
}
