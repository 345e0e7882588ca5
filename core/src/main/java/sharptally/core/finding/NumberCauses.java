package sharptally.core.finding;

import static sharptally.core.finding.LikelyCause.amount;
import static sharptally.core.finding.LikelyCause.guess;

import java.math.BigDecimal;
import java.math.BigInteger;
import java.math.MathContext;
import java.math.RoundingMode;
import java.util.List;

/** What may have made two numbers differ. All is exact: what is told of an amount holds to its last digit. */
final class NumberCauses {
    private static final int MAX_SCALE_STEPS = 9;
    private static final int DIGITS_OF_NOISE = 6;
    /** More decimals than these are the noise of binary fractions, not places that somebody rounds to. */
    private static final int MAX_DECIMALS = 18;

    private static final int MAX_DIGITS_OF_FACTOR = 7;
    private static final int[] WIDTHS = {8, 16, 32, 64};
    private static final int WIDEST = 64;

    private NumberCauses() {}

    static void add(List<LikelyCause> found, String sourceText, String targetText) {
        BigDecimal source;
        BigDecimal target;
        try {
            source = new BigDecimal(sourceText);
            target = new BigDecimal(targetText);
        } catch (NumberFormatException e) {
            return;
        }
        overflow(found, source, target);
        if (source.compareTo(target.negate()) == 0) {
            found.add(guess("sign turned", 20));
        }
        if (target.signum() == 0) {
            found.add(guess("a value to zero", 21));
        }
        factor(found, source, target);
        places(found, source, target);
        single(found, source, target);
        BigDecimal off = target.subtract(source);
        if (off.abs().compareTo(source.abs().scaleByPowerOfTen(-DIGITS_OF_NOISE)) < 0) {
            found.add(guess("the same to " + DIGITS_OF_NOISE + " digits", 80));
        }
        found.add(amount("off by " + (off.signum() > 0 ? "+" : "") + plain(off), 90));
    }

    /** A whole number that did not fit, and came out as what its lowest bits are, or as the greatest that does fit. */
    private static void overflow(List<LikelyCause> found, BigDecimal source, BigDecimal target) {
        if (source.stripTrailingZeros().scale() > 0
                || target.stripTrailingZeros().scale() > 0
                || tooLong(source)) {
            return;
        }
        BigInteger from = source.toBigInteger();
        BigInteger to = target.toBigInteger();
        for (int width : WIDTHS) {
            BigInteger half = BigInteger.ONE.shiftLeft(width - 1);
            BigInteger whole = BigInteger.ONE.shiftLeft(width);
            boolean fits = from.compareTo(half.negate()) >= 0 && from.compareTo(half) < 0;
            boolean fitsUnsigned = from.signum() >= 0 && from.compareTo(whole) < 0;
            BigInteger signed = from.add(half).mod(whole).subtract(half);
            if (!fits && signed.equals(to) || !fitsUnsigned && from.mod(whole).equals(to)) {
                // What holds of the lowest bits of a wider number holds by chance.
                found.add(guess("overflow of " + width + " bits", 10 + WIDEST / width));
            }
            BigInteger most = from.signum() < 0 ? half.negate() : half.subtract(BigInteger.ONE);
            if (!fits && to.equals(most)) {
                found.add(guess("capped at " + most, 19));
            }
        }
    }

    private static boolean tooLong(BigDecimal number) {
        return (long) number.precision() - number.scale() > 40;
    }

    private static void factor(List<LikelyCause> found, BigDecimal source, BigDecimal target) {
        if (source.signum() == 0 || target.signum() == 0) {
            return;
        }
        for (int steps = 1; steps <= MAX_SCALE_STEPS; steps++) {
            if (source.scaleByPowerOfTen(steps).compareTo(target) == 0) {
                found.add(
                        guess("times " + BigDecimal.ONE.scaleByPowerOfTen(steps).toPlainString(), 30));
                return;
            }
            if (source.scaleByPowerOfTen(-steps).compareTo(target) == 0) {
                found.add(guess(
                        "divided by " + BigDecimal.ONE.scaleByPowerOfTen(steps).toPlainString(), 30));
                return;
            }
        }
        BigDecimal by =
                target.divide(source, new MathContext(MAX_DIGITS_OF_FACTOR)).stripTrailingZeros();
        boolean exact = source.multiply(by).compareTo(target) == 0;
        if (exact && by.compareTo(BigDecimal.ONE.negate()) != 0 && Math.abs(by.scale()) <= MAX_SCALE_STEPS) {
            found.add(amount("times " + by.toPlainString(), 85));
        }
    }

    /** Every number of decimals to which the source can have been brought; which it was, all rows together tell. */
    private static void places(List<LikelyCause> found, BigDecimal source, BigDecimal target) {
        int from = target.stripTrailingZeros().scale();
        int to = Math.min(source.stripTrailingZeros().scale() - 1, MAX_DECIMALS);
        for (int decimals = Math.max(0, from); decimals <= to; decimals++) {
            String words = decimals + (decimals == 1 ? " decimal" : " decimals");
            if (source.setScale(decimals, RoundingMode.HALF_UP).compareTo(target) == 0
                    || source.setScale(decimals, RoundingMode.HALF_EVEN).compareTo(target) == 0) {
                found.add(guess("rounded to " + words, 40 + decimals));
            }
            if (source.setScale(decimals, RoundingMode.DOWN).compareTo(target) == 0) {
                found.add(guess("cut to " + words, 60 + decimals));
            }
        }
    }

    private static void single(List<LikelyCause> found, BigDecimal source, BigDecimal target) {
        float kept = source.floatValue();
        if (Float.isInfinite(kept) || Math.abs(kept) < Float.MIN_NORMAL) {
            return;
        }
        // The few digits of a value that is kept exactly are those of any column.
        boolean shortened =
                source.precision() > DIGITS_OF_NOISE && new BigDecimal(Float.toString(kept)).compareTo(target) == 0;
        if (shortened
                || new BigDecimal(kept).compareTo(target) == 0
                || new BigDecimal(Double.toString(kept)).compareTo(target) == 0) {
            found.add(guess("kept in 32 bits", 79));
        }
    }

    static String plain(BigDecimal number) {
        BigDecimal bare = number.stripTrailingZeros();
        return bare.scale() < -MAX_DECIMALS || bare.scale() > 2 * MAX_DECIMALS ? bare.toString() : bare.toPlainString();
    }
}
