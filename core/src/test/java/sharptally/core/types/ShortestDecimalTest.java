package sharptally.core.types;

import static org.assertj.core.api.Assertions.assertThat;

import java.math.BigDecimal;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** Digits of floating values: known ones of other tools, and for random values that none shorter reads back. */
class ShortestDecimalTest {
    @Test
    void knownValuesHaveTheDigitsThatPostgresWrites() {
        assertThat(ShortestDecimal.text(2.0e-3)).isEqualTo("0.002");
        assertThat(ShortestDecimal.text(1e23)).isEqualTo("9.999999999999999E22");
        assertThat(ShortestDecimal.text(49061793743273984.0)).isEqualTo("4.9061793743273984E16");
        assertThat(ShortestDecimal.text(9007199254740993.0)).isEqualTo("9.007199254740992E15");
        assertThat(ShortestDecimal.text(Double.MIN_VALUE)).isEqualTo("5.0E-324");
        assertThat(ShortestDecimal.text(2.2250738585072014e-308)).isEqualTo("2.2250738585072014E-308");
        assertThat(ShortestDecimal.text(-608.69891357421875)).isEqualTo("-608.6989135742188");
        assertThat(ShortestDecimal.text(-2166096596004303.25)).isEqualTo("-2.1660965960043032E15");
        assertThat(ShortestDecimal.text(27429811726666.5625)).isEqualTo("2.7429811726666562E13");
        assertThat(ShortestDecimal.text(1.0)).isEqualTo("1.0");
        assertThat(ShortestDecimal.text(-0.0)).isEqualTo("-0.0");
        assertThat(ShortestDecimal.text(3.4e38f)).isEqualTo("3.4E38");
    }

    @Test
    void digitsReadBackAndNoFewerDo() {
        long seed = Long.getLong("sharptally.seed", Long.getLong("sharptally.draw", System.nanoTime()));
        System.out.println("seed " + seed);
        Random random = new Random(seed);
        for (int i = 0; i < 40_000; i++) {
            double value = i % 4 == 0
                    ? Math.scalb(1.0, random.nextInt(2_000) - 1_000)
                    : i % 4 == 1 ? random.nextInt() / 1000.0 : Double.longBitsToDouble(random.nextLong());
            if (!Double.isFinite(value) || value == 0) {
                continue;
            }
            BigDecimal digits = ShortestDecimal.of(value);
            assertThat(digits.doubleValue()).as("seed " + seed).isEqualTo(value);
            // Java's own are right but for a digit too many.
            assertThat(digits.precision())
                    .as("seed " + seed + " " + value)
                    .isLessThanOrEqualTo(Math.max(
                            BigDecimal.valueOf(value).stripTrailingZeros().precision(),
                            Math.abs(value) >= 0x1p53 ? 17 : 1));
        }
    }

    @Test
    void theQuickWayIsTheOneThatSearches() {
        long seed = Long.getLong("sharptally.seed", Long.getLong("sharptally.draw", System.nanoTime()));
        System.out.println("seed " + seed);
        Random random = new Random(seed);
        for (int i = 0; i < 60_000; i++) {
            double value = switch (i % 6) {
                case 5 -> random.nextLong(200_000_000_000_000_000L) / Math.pow(10, random.nextInt(12));
                case 0 -> Math.scalb(1.0, random.nextInt(1_060) - 1_010) * (1 + (random.nextInt(3) - 1) * 0x1p-52);
                case 1 -> random.nextInt() / 1000.0;
                case 2 -> 950 + random.nextInt(100_000) / 1000.0 + 1 / 3.0;
                case 3 -> Math.rint(random.nextDouble() * 0x1p53);
                default -> Double.longBitsToDouble(random.nextLong());
            };
            float small = (float) value;
            if (!Double.isFinite(value) || value == 0 || !Float.isFinite(small) || small == 0) {
                continue;
            }
            assertThat(ShortestDecimal.of(value)).as("seed " + seed).isEqualTo(ShortestDecimal.searched(value));
            assertThat(ShortestDecimal.of(small)).as("seed " + seed).isEqualTo(ShortestDecimal.searched(small));
            assertThat(ShortestDecimal.text(value)).as("seed " + seed).isEqualTo(jdk(ShortestDecimal.searched(value)));
        }
    }

    /** In the form of Java's own text of floating values. */
    private static String jdk(BigDecimal digits) {
        int exponent = digits.precision() - digits.scale() - 1;
        if (exponent >= -3 && exponent < 7) {
            return digits.scale() <= 0 ? digits.toPlainString() + ".0" : digits.toPlainString();
        }
        String all = digits.unscaledValue().abs().toString();
        return (digits.signum() < 0 ? "-" : "") + all.charAt(0) + "." + (all.length() > 1 ? all.substring(1) : "0")
                + "E" + exponent;
    }
}
