package sharptally.core.totals;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Optional;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Expectations are read whole or not at all. */
class ExpectationTest {
    private static final List<String> FIGURES = List.of(
            "rows",
            "filled(a)",
            "nulls(level m)",
            "distinct(\"a\")",
            "sum(x)",
            "mean(x)",
            "length(t)",
            "min(x)",
            "max(x)");
    private static final List<String> SIGNS = List.of("<", "<=", "=", "!=", "<>", ">=", ">");
    private static final List<String> NUMBERS = List.of("0", "-3", "+4", "2.5", ".5", "1e9", "1.5E-3", "7.");
    private static final List<String> BEHIND = List.of(
            " and",
            " AND rows < 2000",
            " or 1",
            " 5",
            ",",
            ";",
            " -- all",
            ")",
            " < 3",
            " x y",
            " % 2",
            "'",
            "\"",
            " e5");

    @Test
    void nothingMayStandBehindTheValue() {
        long seed = Long.getLong("sharptally.seed", Long.getLong("sharptally.draw", System.nanoTime()));
        System.out.println("seed " + seed);
        Random random = new Random(seed);
        for (int i = 0; i < 5_000; i++) {
            String figure = FIGURES.get(random.nextInt(FIGURES.size()));
            String whole = figure
                    + blank(random)
                    + SIGNS.get(random.nextInt(SIGNS.size()))
                    + blank(random)
                    + NUMBERS.get(random.nextInt(NUMBERS.size()));
            assertThat(Expectation.parse(whole))
                    .as("seed " + seed + ": " + whole)
                    .isPresent();
            String more = whole + BEHIND.get(random.nextInt(BEHIND.size()));
            assertThat(Expectation.parse(more)).as("seed " + seed + ": " + more).isEmpty();
        }
    }

    private static String blank(Random random) {
        return " ".repeat(random.nextInt(3));
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "rows >= 4000 AND rows < 2000",
                "rows > 3 and",
                "rows > many",
                "rows(a) > 1",
                "sum > 1",
                "sum(a) = sum(b)",
                "rows",
                "rows >",
                "> 3",
                "weight(a) > 1",
                "max(a) < 2027-01-01 10:00",
                "mean(a) = 'x'",
                ""
            })
    void whatIsNoneIsRefused(String text) {
        assertThat(Expectation.parse(text)).isEmpty();
    }

    @Test
    void valuesOfLeastAndGreatestMayBeTextsAndTimes() {
        assertThat(held("max(taken_at) < '2027-01-01 10:00'", "2026-12-31T23:59"))
                .isTrue();
        assertThat(held("max(taken_at) < 2027-01-01", "2027-01-02")).isFalse();
        assertThat(held("min(code) = \"TG 01\"", "TG 01")).isTrue();
        assertThat(held("max(level) <= 1e1", "10.0")).isTrue();
    }

    private static boolean held(String expected, String figure) {
        return Expectation.parse(expected).orElseThrow().isHeldBy(Optional.of(figure));
    }
}
