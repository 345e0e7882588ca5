package sharptally.core.rows;

import com.fasterxml.jackson.core.io.NumberInput;
import java.nio.charset.StandardCharsets;
import java.time.LocalDate;
import java.time.Month;
import java.time.chrono.IsoChronology;

/**
 * Reads the usual writing of numbers and times out of bytes, of which millions come in files: without making text of them
 * first. What is written otherwise is no failure here; whoever asks reads it by the rules for all forms, which say the same
 * of the usual one.
 */
final class UsualText {
    /** So many digits are a number of 64 bits, whatever they are. */
    private static final int MAX_DIGITS = 18;

    private static final int MAX_FLOATING = 64;
    private static final int DATE_LENGTH = 10;
    private static final int TIMESTAMP_LENGTH = 19;
    private static final int NANO_DIGITS = 9;
    private static final int SECONDS_PER_DAY = 86_400;

    private UsualText() {}

    private static boolean isDigit(byte b) {
        return b >= '0' && b <= '9';
    }

    /** Adds a whole number such as {@code -17}; false where it is none, or not written so. */
    static boolean addInteger(byte[] bytes, int from, int length, Column out) {
        int at = from;
        int end = from + length;
        boolean negative = at < end && bytes[at] == '-';
        at += negative ? 1 : 0;
        int digits = end - at;
        if (digits == 0 || digits > MAX_DIGITS || bytes[at] == '0' && (digits > 1 || negative)) {
            return false;
        }
        long number = 0;
        for (; at < end; at++) {
            if (!isDigit(bytes[at])) {
                return false;
            }
            number = number * 10 + bytes[at] - '0';
        }
        out.addInt(negative ? -number : number);
        return true;
    }

    /** Adds a number such as {@code -12.500}, with its scale; false where it is none, or not written so. */
    static boolean addDecimal(byte[] bytes, int from, int length, Column out) {
        int begin = from;
        int end = from + length;
        boolean negative = begin < end && bytes[begin] == '-';
        begin += negative ? 1 : 0;
        if (end - begin == 0 || end - begin > MAX_DIGITS + 1 || bytes[begin] == '.' || bytes[end - 1] == '.') {
            return false;
        }
        if (bytes[begin] == '0' && end - begin > 1 && bytes[begin + 1] != '.') {
            return false;
        }
        long unscaled = 0;
        int point = -1;
        for (int at = begin; at < end; at++) {
            if (bytes[at] == '.' && point < 0) {
                point = at;
            } else if (isDigit(bytes[at])) {
                unscaled = unscaled * 10 + bytes[at] - '0';
            } else {
                return false;
            }
        }
        if (point < 0 && end - begin > MAX_DIGITS || negative && unscaled == 0) {
            return false;
        }
        out.addDecimal(negative ? -unscaled : unscaled, point < 0 ? 0 : end - point - 1);
        return true;
    }

    /** Adds a floating number such as {@code 0.1} or {@code 1.5e-07}; false where it is none, not finite, zero or long. */
    static boolean addDouble(byte[] bytes, int from, int length, Column out) {
        if (length > MAX_FLOATING || !isFloating(bytes, from, from + length)) {
            return false;
        }
        double value = NumberInput.parseDouble(new String(bytes, from, length, StandardCharsets.ISO_8859_1), true);
        if (value == 0 || !Double.isFinite(value)) {
            return false;
        }
        out.addDouble(value);
        return true;
    }

    /** {@code -?(0|[1-9]\\d*)(\\.\\d+)?([eE][+-]?\\d{1,4})?}. */
    private static boolean isFloating(byte[] bytes, int from, int end) {
        int at = from < end && bytes[from] == '-' ? from + 1 : from;
        int whole = pastDigits(bytes, at, end);
        if (whole == at || bytes[at] == '0' && whole > at + 1) {
            return false;
        }
        at = whole;
        if (at < end && bytes[at] == '.') {
            int fraction = pastDigits(bytes, at + 1, end);
            if (fraction == at + 1) {
                return false;
            }
            at = fraction;
        }
        if (at < end && (bytes[at] == 'e' || bytes[at] == 'E')) {
            at += at + 1 < end && (bytes[at + 1] == '+' || bytes[at + 1] == '-') ? 2 : 1;
            int exponent = pastDigits(bytes, at, end);
            if (exponent == at || exponent > at + 4) {
                return false;
            }
            at = exponent;
        }
        return at == end;
    }

    private static int pastDigits(byte[] bytes, int from, int end) {
        int at = from;
        while (at < end && isDigit(bytes[at])) {
            at++;
        }
        return at;
    }

    /** The number that the digits from one place up to another say; negative where one of them is none. */
    private static int digits(byte[] bytes, int from, int to) {
        int number = 0;
        for (int at = from; at < to; at++) {
            if (!isDigit(bytes[at])) {
                return -1;
            }
            number = number * 10 + bytes[at] - '0';
        }
        return number;
    }

    /** Days since 1970-01-01 of {@code YYYY-MM-DD}; {@link Long#MIN_VALUE} where it is none. */
    private static long day(byte[] bytes, int from) {
        int year = digits(bytes, from, from + 4);
        int month = digits(bytes, from + 5, from + 7);
        int day = digits(bytes, from + 8, from + DATE_LENGTH);
        boolean right = bytes[from + 4] == '-'
                && bytes[from + 7] == '-'
                && year >= 0
                && month >= 1
                && month <= 12
                && day >= 1
                && (day <= 28 || day <= Month.of(month).length(IsoChronology.INSTANCE.isLeapYear(year)));
        return right ? LocalDate.of(year, month, day).toEpochDay() : Long.MIN_VALUE;
    }

    /** Adds {@code YYYY-MM-DD}. */
    static boolean addDate(byte[] bytes, int from, int length, Column out) {
        long day = length == DATE_LENGTH ? day(bytes, from) : Long.MIN_VALUE;
        if (day == Long.MIN_VALUE) {
            return false;
        }
        out.addDate(day);
        return true;
    }

    /** What gets a time. */
    interface Times {
        /**
         * @param epochSecond seconds since 1970-01-01
         */
        void add(long epochSecond, int nanos);
    }

    /** Adds {@code YYYY-MM-DD HH:MM:SS[.fraction]}, or the same with a T in between. */
    static boolean addTimestamp(byte[] bytes, int from, int length, Times out) {
        int fraction = length - TIMESTAMP_LENGTH - 1;
        if (length < TIMESTAMP_LENGTH || fraction == 0 || fraction > NANO_DIGITS) {
            return false;
        }
        byte between = bytes[from + DATE_LENGTH];
        boolean usual = (between == ' ' || between == 'T')
                && bytes[from + 13] == ':'
                && bytes[from + 16] == ':'
                && (fraction < 0 || bytes[from + TIMESTAMP_LENGTH] == '.');
        long day = usual ? day(bytes, from) : Long.MIN_VALUE;
        int hour = digits(bytes, from + 11, from + 13);
        int minute = digits(bytes, from + 14, from + 16);
        int second = digits(bytes, from + 17, from + TIMESTAMP_LENGTH);
        int nanos = fraction < 0 ? 0 : digits(bytes, from + TIMESTAMP_LENGTH + 1, from + length);
        if (day == Long.MIN_VALUE || (hour | minute | second | nanos) < 0 || hour > 23 || minute > 59 || second > 59) {
            return false;
        }
        for (int i = Math.max(0, fraction); i < NANO_DIGITS && nanos > 0; i++) {
            nanos *= 10;
        }
        out.add(day * SECONDS_PER_DAY + hour * 3_600L + minute * 60L + second, nanos);
        return true;
    }

    /** The same with {@code Z}, {@code +HH} or {@code +HH:MM} behind it, or without an offset, which is then none. */
    static boolean addInstant(byte[] bytes, int from, int length, Times out) {
        int end = from + length;
        if (length > TIMESTAMP_LENGTH && bytes[end - 1] == 'Z') {
            return addTimestamp(bytes, from, length - 1, out);
        }
        boolean hours = length > TIMESTAMP_LENGTH + 2 && isSign(bytes[end - 3]);
        boolean minutes = length > TIMESTAMP_LENGTH + 5 && isSign(bytes[end - 6]) && bytes[end - 3] == ':';
        if (!hours && !minutes) {
            return addTimestamp(bytes, from, length, out);
        }
        int begin = end - (hours ? 3 : 6);
        int hour = digits(bytes, begin + 1, begin + 3);
        int minute = hours ? 0 : digits(bytes, end - 2, end);
        if (hour < 0 || hour > 17 || minute < 0 || minute > 59) {
            return false;
        }
        int seconds = (hour * 60 + minute) * 60 * (bytes[begin] == '-' ? -1 : 1);
        return addTimestamp(bytes, from, begin - from, (second, nanos) -> out.add(second - seconds, nanos));
    }

    private static boolean isSign(byte b) {
        return b == '+' || b == '-';
    }
}
