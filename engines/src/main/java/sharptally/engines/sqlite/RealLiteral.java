package sharptally.engines.sqlite;

import java.math.BigDecimal;
import java.math.BigInteger;
import sharptally.core.types.ShortestDecimal;

/**
 * Literals of floating numbers that every version of SQLite reads exactly. Its own reading of decimals takes the digits as
 * a whole number and scales that by a power of ten in one floating operation or several, which now and then gives the
 * neighbour of the number that is meant. So a decimal is written only where one exact power of ten is needed and rounding
 * to 53 bits, be it by way of 64, gives the number; else it is written as a whole number times or divided by powers of two,
 * all of which are exact.
 */
final class RealLiteral {
    /** The largest power of ten that is exact in 53 bits. */
    private static final int EXACT_TENS = 22;

    private static final int SURE_DIGITS = 15;
    private static final int STEP = 60;
    private static final String POWER = BigInteger.ONE.shiftLeft(STEP) + ".0";

    private RealLiteral() {}

    /**
     * @param value finite
     */
    static String of(double value) {
        BigDecimal digits = ShortestDecimal.of(value);
        if (value == 0 || isReadExactly(digits, value)) {
            return ShortestDecimal.text(value);
        }
        int exponent = Math.getExponent(Math.max(Math.abs(value), Double.MIN_NORMAL)) - 52;
        BigInteger whole = new BigDecimal(value).multiply(two(-exponent)).toBigIntegerExact();
        int zeros = whole.getLowestSetBit();
        whole = whole.shiftRight(zeros);
        exponent += zeros;
        StringBuilder text = new StringBuilder("(").append(whole).append(".0");
        String sign = exponent < 0 ? " / " : " * ";
        int left = Math.abs(exponent);
        for (; left > STEP; left -= STEP) {
            text.append(sign).append(POWER);
        }
        return left == 0
                ? text.substring(1)
                : text.append(sign)
                        .append(BigInteger.ONE.shiftLeft(left))
                        .append(".0)")
                        .toString();
    }

    private static BigDecimal two(int exponent) {
        BigDecimal power = new BigDecimal(BigInteger.ONE.shiftLeft(Math.abs(exponent)));
        return exponent < 0 ? BigDecimal.ONE.divide(power) : power;
    }

    private static boolean isReadExactly(BigDecimal digits, double value) {
        if (digits.precision() > SURE_DIGITS || Math.abs(digits.scale()) > EXACT_TENS) {
            return false;
        }
        return by64Bits(digits) == value;
    }

    /** The decimal rounded to 64 bits, half to even, and then to 53. */
    private static double by64Bits(BigDecimal digits) {
        BigInteger over = digits.unscaledValue().abs();
        BigInteger under = BigInteger.ONE;
        if (digits.scale() > 0) {
            under = BigInteger.TEN.pow(digits.scale());
        } else {
            over = over.multiply(BigInteger.TEN.pow(-digits.scale()));
        }
        int shift = 64 - (over.bitLength() - under.bitLength());
        BigInteger[] parts =
                over.shiftLeft(Math.max(0, shift)).divideAndRemainder(under.shiftLeft(Math.max(0, -shift)));
        BigInteger bits = parts[0];
        boolean rest = parts[1].signum() != 0;
        int surplus = bits.bitLength() - 64;
        if (surplus > 0) {
            BigInteger cut = bits.shiftRight(surplus);
            BigInteger lost = bits.subtract(cut.shiftLeft(surplus));
            int half = lost.compareTo(BigInteger.ONE.shiftLeft(surplus - 1));
            boolean up = half > 0 || half == 0 && (rest || cut.testBit(0));
            bits = up ? cut.add(BigInteger.ONE) : cut;
            shift -= surplus;
        }
        double size = new BigDecimal(bits).multiply(two(-shift)).doubleValue();
        return digits.signum() < 0 ? -size : size;
    }
}
