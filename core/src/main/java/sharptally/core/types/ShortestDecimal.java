package sharptally.core.types;

import com.fasterxml.jackson.core.io.schubfach.DoubleToDecimal;
import com.fasterxml.jackson.core.io.schubfach.FloatToDecimal;
import java.math.BigDecimal;
import java.math.MathContext;
import java.math.RoundingMode;

/**
 * The decimal of the fewest digits that reads back as a floating value; of several, the one nearest to it. Java 17 itself
 * now and then writes a digit too many (JDK-4511638).
 *
 * <p>A decimal that lies right between two floating values is not taken, though it may be read as one of them: which one
 * hangs on how ties are rounded. (PostgreSQL holds it so; there are such decimals from 2^53 on alone.)
 *
 * <p>Of at most fifteen digits (six, of 32 bits) only one decimal reads back as a value, and it is the nearest of that
 * length. So what Java writes is right where it is no longer than that; else fifteen digits are tried, and then the decimals
 * of each greater length on both sides of the value, since next to a power of two the nearest one may lie outside of what
 * reads back while the other one lies inside. Values below the normal ones have fewer digits, and are tried from one on.
 *
 * <p>Where there are neither ties nor such small values, a library says the same in a hundredth of the time.
 */
public final class ShortestDecimal {
    private static final int SURE_DIGITS = 15;
    private static final int MOST_DIGITS = 17;
    private static final double FIRST_TIE = 0x1p53;
    private static final float FIRST_TIE_OF_FLOAT = 0x1p24f;
    private static final int SURE_DIGITS_OF_FLOAT = 6;
    private static final int MOST_DIGITS_OF_FLOAT = 9;

    /** Of which each is exactly a floating value. */
    private static final double[] TENS = {1, 10, 100, 1e3, 1e4, 1e5, 1e6, 1e7, 1e8};

    private static final double TOO_MANY_DIGITS = 1e15;

    private ShortestDecimal() {}

    /** Reads digits back as a floating value. */
    private interface ReadsBack {
        boolean test(BigDecimal digits);
    }

    /**
     * @param value finite
     */
    public static BigDecimal of(double value) {
        int places = placesOf(value);
        if (places >= 0) {
            return BigDecimal.valueOf(digits(value, places), places).stripTrailingZeros();
        }
        return isUsual(value) ? new BigDecimal(DoubleToDecimal.toString(value)).stripTrailingZeros() : searched(value);
    }

    /**
     * How many places behind the point the decimal has, where that is quickly told: of at most fifteen digits, eight of them
     * behind the point. That it reads back is seen by a division, which rounds as reading does.
     *
     * @return -1 where it is not told
     */
    public static int placesOf(double value) {
        for (int places = 0; places < TENS.length; places++) {
            double digits = Math.rint(value * TENS[places]);
            if (digits / TENS[places] == value) {
                return Math.abs(digits) < TOO_MANY_DIGITS ? places : -1;
            }
        }
        return -1;
    }

    /** All digits of the decimal, as one whole number. */
    public static long digits(double value, int places) {
        return (long) Math.rint(value * TENS[places]);
    }

    /** Neither one next to which a tie may lie, nor one of fewer digits than usual. */
    private static boolean isUsual(double value) {
        return Math.abs(value) >= java.lang.Double.MIN_NORMAL && Math.abs(value) < FIRST_TIE;
    }

    static BigDecimal searched(double value) {
        BigDecimal written = BigDecimal.valueOf(value).stripTrailingZeros();
        double size = Math.abs(value);
        boolean sure = written.precision() <= SURE_DIGITS && size >= java.lang.Double.MIN_NORMAL && size < FIRST_TIE;
        return sure || value == 0
                ? written
                : shortest(
                        new BigDecimal(value),
                        size >= java.lang.Double.MIN_NORMAL ? SURE_DIGITS : 1,
                        MOST_DIGITS,
                        digits -> digits.doubleValue() == value,
                        Math.ulp(value));
    }

    /**
     * @param value finite
     */
    public static BigDecimal of(float value) {
        return isUsual(value) ? new BigDecimal(FloatToDecimal.toString(value)).stripTrailingZeros() : searched(value);
    }

    private static boolean isUsual(float value) {
        return Math.abs(value) >= java.lang.Float.MIN_NORMAL && Math.abs(value) < FIRST_TIE_OF_FLOAT;
    }

    static BigDecimal searched(float value) {
        BigDecimal written = new BigDecimal(java.lang.Float.toString(value)).stripTrailingZeros();
        float size = Math.abs(value);
        boolean sure = written.precision() <= SURE_DIGITS_OF_FLOAT
                && size >= java.lang.Float.MIN_NORMAL
                && size < FIRST_TIE_OF_FLOAT;
        return sure || value == 0
                ? written
                : shortest(
                        new BigDecimal(value),
                        size >= java.lang.Float.MIN_NORMAL ? SURE_DIGITS_OF_FLOAT : 1,
                        MOST_DIGITS_OF_FLOAT,
                        digits -> digits.floatValue() == value,
                        Math.ulp(value));
    }

    private static BigDecimal shortest(BigDecimal exact, int least, int most, ReadsBack readsBack, double step) {
        BigDecimal half = new BigDecimal(step).divide(BigDecimal.valueOf(2));
        // Below a power of two, values lie twice as close.
        BigDecimal quarter = new BigDecimal(step).divide(BigDecimal.valueOf(4));
        for (int places = least; places < most; places++) {
            BigDecimal below = exact.round(new MathContext(places, RoundingMode.DOWN));
            BigDecimal above = exact.round(new MathContext(places, RoundingMode.UP));
            int order =
                    exact.subtract(below).abs().compareTo(above.subtract(exact).abs());
            // Of two that are as near, the one that ends in an even digit.
            boolean belowFirst =
                    order < 0 || order == 0 && !below.unscaledValue().testBit(0);
            BigDecimal nearer = belowFirst ? below : above;
            BigDecimal farther = belowFirst ? above : below;
            if (readsBack.test(nearer) && !isTie(nearer, exact, half, quarter)) {
                return nearer.stripTrailingZeros();
            }
            if (readsBack.test(farther) && !isTie(farther, exact, half, quarter)) {
                return farther.stripTrailingZeros();
            }
        }
        return exact.round(new MathContext(most, RoundingMode.HALF_EVEN)).stripTrailingZeros();
    }

    private static boolean isTie(BigDecimal digits, BigDecimal exact, BigDecimal half, BigDecimal quarter) {
        BigDecimal apart = digits.subtract(exact).abs();
        boolean powerOfTwo = exact.scale() <= 0 && exact.toBigInteger().abs().bitCount() == 1;
        boolean below = digits.abs().compareTo(exact.abs()) < 0;
        return apart.compareTo(half) == 0 || powerOfTwo && below && apart.compareTo(quarter) == 0;
    }

    /** As {@link java.lang.Double#toString(double)} writes it, with no digit too many. */
    public static String text(double value) {
        if (isUsual(value)) {
            return DoubleToDecimal.toString(value);
        }
        return java.lang.Double.isFinite(value) && value != 0 ? java(of(value)) : java.lang.Double.toString(value);
    }

    /** As {@link java.lang.Float#toString(float)} writes it, with no digit too many. */
    public static String text(float value) {
        if (isUsual(value)) {
            return FloatToDecimal.toString(value);
        }
        return java.lang.Float.isFinite(value) && value != 0 ? java(of(value)) : java.lang.Float.toString(value);
    }

    private static String java(BigDecimal digits) {
        int exponent = digits.precision() - digits.scale() - 1;
        if (exponent >= -3 && exponent < 7) {
            String plain = digits.toPlainString();
            return plain.indexOf('.') < 0 ? plain + ".0" : plain;
        }
        String all = digits.unscaledValue().abs().toString();
        return (digits.signum() < 0 ? "-" : "") + all.charAt(0) + "." + (all.length() > 1 ? all.substring(1) : "0")
                + "E" + exponent;
    }
}
