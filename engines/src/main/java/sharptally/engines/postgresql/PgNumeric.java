package sharptally.engines.postgresql;

import java.math.BigDecimal;
import java.math.BigInteger;
import java.nio.ByteBuffer;
import sharptally.core.rows.Column;

/**
 * Numbers as {@code numeric_send} writes them: count of digits, weight of the first one, sign, scale, then the digits,
 * all 16 bits each; the digits are to the base 10,000.
 */
final class PgNumeric {
    private static final int BASE = 10_000;
    private static final int DIGITS_OF_BASE = 4;
    private static final int NEGATIVE = 0x4000;
    private static final int NAN = 0xC000;
    private static final int INFINITY = 0xD000;
    private static final int MINUS_INFINITY = 0xF000;
    /** So many digits to the base still fit 64 bits. */
    private static final int MAX_SMALL = 4;

    private PgNumeric() {}

    static void read(ByteBuffer in, Column into) {
        int digits = in.getShort();
        int weight = in.getShort();
        int sign = in.getShort() & 0xFFFF;
        int scale = in.getShort();
        switch (sign) {
            case NAN -> into.addDouble(Double.NaN);
            case INFINITY -> into.addDouble(Double.POSITIVE_INFINITY);
            case MINUS_INFINITY -> into.addDouble(Double.NEGATIVE_INFINITY);
            default -> number(in, digits, weight, sign == NEGATIVE, scale, into);
        }
    }

    private static void number(ByteBuffer in, int digits, int weight, boolean negative, int scale, Column into) {
        // The last digit to the base stands at 10,000^(weight - digits + 1).
        int exponent = (weight - digits + 1) * DIGITS_OF_BASE;
        if (digits <= MAX_SMALL && exponent <= 0 && -exponent - scale < DIGITS_OF_BASE && scale + exponent <= 2) {
            long unscaled = 0;
            for (int i = 0; i < digits; i++) {
                unscaled = unscaled * BASE + in.getShort();
            }
            int has = -exponent;
            for (; has > scale; has--) {
                unscaled /= 10;
            }
            for (; has < scale; has++) {
                unscaled *= 10;
            }
            into.addDecimal(negative ? -unscaled : unscaled, scale);
            return;
        }
        BigInteger unscaled = BigInteger.ZERO;
        BigInteger base = BigInteger.valueOf(BASE);
        for (int i = 0; i < digits; i++) {
            unscaled = unscaled.multiply(base).add(BigInteger.valueOf(in.getShort()));
        }
        BigDecimal value = new BigDecimal(negative ? unscaled.negate() : unscaled, -exponent);
        // Digits beyond the scale are zeros, so nothing is rounded.
        into.addDecimal(value.setScale(scale, java.math.RoundingMode.UNNECESSARY));
    }
}
