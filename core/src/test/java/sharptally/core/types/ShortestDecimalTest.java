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
        long seed = Long.getLong("sharptally.seed", System.nanoTime());
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
}
