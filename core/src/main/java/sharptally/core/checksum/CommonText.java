package sharptally.core.checksum;

import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.util.HexFormat;
import sharptally.core.types.ShortestDecimal;
import sharptally.core.types.TimeText;
import sharptally.core.types.Value;

/** The text that stands for a value in the common form: equal values have equal texts, whatever the engine. */
public final class CommonText {
    /** What stands for NULL. */
    public static final String NULL = "~";

    private static final int FIXED_FROM = -4;
    private static final int FIXED_BELOW = 15;

    private CommonText() {}

    /** The text in UTF-8. */
    public static byte[] bytes(Value value) {
        if (value instanceof Value.BrokenText broken) {
            byte[] head = (broken.bytes().length + ":").getBytes(StandardCharsets.US_ASCII);
            byte[] all = java.util.Arrays.copyOf(head, head.length + broken.bytes().length);
            System.arraycopy(broken.bytes(), 0, all, head.length, broken.bytes().length);
            return all;
        }
        return of(value).getBytes(StandardCharsets.UTF_8);
    }

    /** The text of a value that is not broken text. */
    public static String of(Value value) {
        if (value instanceof Value.Null) {
            return NULL;
        } else if (value instanceof Value.Bool v) {
            return v.value() ? "1" : "0";
        } else if (value instanceof Value.Decimal v) {
            return decimal(v.value());
        } else if (value instanceof Value.Real v) {
            return floating(v.value());
        } else if (value instanceof Value.Double v) {
            return floating(v.value());
        } else if (value instanceof Value.Text v) {
            return counted(v.value());
        } else if (value instanceof Value.Bytes v) {
            return HexFormat.of().formatHex(v.value());
        } else if (value instanceof Value.Date v) {
            return date(v.value());
        } else if (value instanceof Value.Timestamp v) {
            return timestamp(v.value());
        } else if (value instanceof Value.Instant v) {
            return timestamp(LocalDateTime.ofInstant(v.value(), ZoneOffset.UTC));
        } else if (value instanceof Value.Time v) {
            return TimeText.time(v.nanos());
        } else if (value instanceof Value.Other v) {
            // What is no time of ours, such as infinity, stands for itself.
            return v.type().equals("time") ? v.text() : counted(v.text());
        }
        return value.toString();
    }

    private static String counted(String text) {
        return text.getBytes(StandardCharsets.UTF_8).length + ":" + text;
    }

    private static String decimal(BigDecimal value) {
        return value.signum() == 0 ? "0" : value.stripTrailingZeros().toPlainString();
    }

    /** The fewest digits that read back as the value; with an exponent where it is very small or very large. */
    private static String floating(double value) {
        if (value == 0) {
            return "0";
        }
        if (!Double.isFinite(value)) {
            return Double.toString(value);
        }
        return written(ShortestDecimal.of(value));
    }

    private static String written(BigDecimal digits) {
        BigDecimal bare = digits.stripTrailingZeros();
        int exponent = bare.precision() - bare.scale() - 1;
        if (exponent >= FIXED_FROM && exponent < FIXED_BELOW) {
            return bare.toPlainString();
        }
        String all = bare.unscaledValue().abs().toString();
        return (bare.signum() < 0 ? "-" : "")
                + all.charAt(0)
                + (all.length() > 1 ? "." + all.substring(1) : "")
                + (exponent < 0 ? "e-" : "e+")
                + (Math.abs(exponent) < 10 ? "0" : "")
                + Math.abs(exponent);
    }

    private static String date(LocalDate date) {
        boolean before = date.getYear() < 1;
        int year = before ? 1 - date.getYear() : date.getYear();
        // As a date writes itself, but for the sign before years of more than four digits.
        String text = date.withYear(year).toString().replace("+", "");
        return before ? text + " BC" : text;
    }

    private static String timestamp(LocalDateTime time) {
        String day = date(time.toLocalDate());
        boolean before = day.endsWith(" BC");
        return (before ? day.substring(0, day.length() - 3) : day)
                + " "
                + TimeText.time(time.toLocalTime().toNanoOfDay())
                + (before ? " BC" : "");
    }
}
