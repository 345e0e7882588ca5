package sharptally.core.checksum;

import static org.assertj.core.api.Assertions.assertThat;

import java.math.BigDecimal;
import java.time.LocalDateTime;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import sharptally.core.types.Value;

/** The common form of values: one text per value, and no text for two. */
class CommonTextTest {
    @ParameterizedTest
    @CsvSource({
        "0.1, 0.1",
        "-2.50, -2.5",
        "-0.0, 0",
        "1e14, 100000000000000",
        "1e15, 1e+15",
        "0.0001, 0.0001",
        "0.00001, 1e-05",
        "2.5e-7, 2.5e-07",
        "1.7976931348623157e308, 1.7976931348623157e+308",
        "4.9e-324, 5e-324",
        "2e23, 1.9999999999999998e+23",
        "0.30000000000000004, 0.30000000000000004",
        "NaN, NaN",
        "-Infinity, -Infinity"
    })
    void floatingValuesHaveTheFewestDigits(double value, String text) {
        assertThat(CommonText.of(new Value.Double(value))).isEqualTo(text);
    }

    @Test
    void everyFloatingValueReadsBackFromItsText() {
        long seed = System.nanoTime();
        System.out.println("seed " + seed);
        Random random = new Random(seed);
        for (int i = 0; i < 20_000; i++) {
            double value = Double.longBitsToDouble(random.nextLong());
            if (Double.isFinite(value)) {
                assertThat(Double.parseDouble(CommonText.of(new Value.Double(value))))
                        .isEqualTo(value);
            }
        }
    }

    @Test
    void formThatCarriesNoMeaningIsLost() {
        assertThat(CommonText.of(new Value.Decimal(new BigDecimal("1.500")))).isEqualTo("1.5");
        assertThat(CommonText.of(new Value.Decimal(new BigDecimal("1E+3")))).isEqualTo("1000");
        assertThat(CommonText.of(new Value.Decimal(new BigDecimal("-0.00")))).isEqualTo("0");
        assertThat(CommonText.of(new Value.Timestamp(LocalDateTime.of(2026, 11, 23, 6, 0, 0, 250_000_000))))
                .isEqualTo("2026-11-23 06:00:00.25");
        assertThat(CommonText.of(new Value.Timestamp(LocalDateTime.of(-43, 3, 15, 0, 0))))
                .isEqualTo("0044-03-15 00:00:00 BC");
    }

    @Test
    void textsThatLookLikeOtherColumnsOrNullHashOtherwise() {
        RowHash hash = new RowHash();
        assertThat(List.of(
                        hash.of(List.of(new Value.Text("a|b"), new Value.Text(""))),
                        hash.of(List.of(new Value.Text("a"), new Value.Text("b"))),
                        hash.of(List.of(new Value.Text("~"), Value.NULL)),
                        hash.of(List.of(Value.NULL, new Value.Text("~"))),
                        hash.of(List.of(Value.NULL, Value.NULL)),
                        hash.of(List.of(new Value.Text("1:~"), Value.NULL))))
                .doesNotHaveDuplicates();
    }
}
