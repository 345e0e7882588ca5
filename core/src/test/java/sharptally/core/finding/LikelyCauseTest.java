package sharptally.core.finding;

import static java.math.RoundingMode.DOWN;
import static java.math.RoundingMode.HALF_UP;
import static org.assertj.core.api.Assertions.assertThat;

import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.time.LocalDateTime;
import java.util.List;
import java.util.Random;
import java.util.function.Function;
import java.util.function.UnaryOperator;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.MethodSource;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;

class LikelyCauseTest {
    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            ignoreLeadingAndTrailingWhitespace = false,
            value = {
                "pier |pier|trailing spaces",
                " pier|pier|spaces around",
                "a  b|a b|spaces within",
                "Pier|PIER|letter case",
                "Zürich|ZuÌ\u0088rich|",
                "e\u0301|\u00e9|form of accents",
                "Düne|DÃ¼ne|UTF-8 read as Latin-1",
                "DÃ¼ne|Düne|UTF-8 read as Latin-1, repaired",
                "Düne|DÃƒÂ¼ne|UTF-8 encoded twice over",
                "€ 5|â‚¬ 5|UTF-8 read as Latin-1",
                "Ðÿ|Ã\u0090Ã¿|UTF-8 read as Latin-1",
                "Düne|D\uFFFD\uFFFDne|letters lost in encoding",
                "Düne|D?nen|",
                "0017|17|leading zeros lost",
                "1,5|1.5|decimal comma",
                "1.50|1.5|the same number, written otherwise",
                "Düne|D?ne|letters lost in encoding",
                "a long remark|a long|cut at 6 characters",
                "calm|rough|"
            })
    void ofTexts(String source, String target, String cause) {
        assertThat(words(Kind.TEXT, new Value.Text(source), new Value.Text(target)))
                .isEqualTo(cause == null ? List.of() : List.of(cause));
    }

    @ParameterizedTest
    @CsvSource({
        "1.5, 1500, times 1000",
        "1500, 1.5, divided by 1000",
        "2, -2, sign turned",
        "2.345, 2.35, rounded to 2 decimals",
        "2.349, 2.34, cut to 2 decimals",
        "7, 0, a value to zero",
        "1234567.125, 1234567.25, the same to 6 digits",
        "32768, -32768, overflow of 16 bits",
        "4294967301, 5, overflow of 32 bits",
        "70000, 32767, capped at 32767",
        "0.1234567890123, 0.12345679, rounded to 8 decimals",
        "16777217.5, 16777218, rounded to 0 decimals",
        "5, 4294967301, off by +4294967296",
        "7, 9, off by +2",
        "7.00000012345678, 9.00000123456789, off by +2.00000111111111"
    })
    void ofNumbers(BigDecimal source, BigDecimal target, String cause) {
        assertThat(words(Kind.DECIMAL, new Value.Decimal(source), new Value.Text(target.toPlainString())))
                .contains(cause);
    }

    @ParameterizedTest
    @CsvSource({
        "2026-03-29T02:30:00, 2026-03-29T03:30:00, off by +1 hour",
        "2026-03-29T02:30:00, 2026-03-28T20:45:00, off by -5:45 hours",
        "2026-03-29T02:30:00, 2026-03-29T00:00:00, time of day lost",
        "2026-03-29T02:30:00.250, 2026-03-29T02:30:00, cut to whole seconds",
        "2026-03-29T02:30:00, 2026-03-29T02:35:13, off by +0:05:13",
        "2026-03-29T02:30:00, 2126-03-29T02:30:00, off by +100 years",
        "2026-03-04T02:30:00, 2026-04-03T02:30:00, day and month swapped",
        "2026-03-29T02:30:00, 2026-03-30T02:30:00, off by +1 day",
        "2026-03-29T02:30:00, 2026-03-29T02:30:00, zone not applied",
        "2026-03-29T02:30:00, 2026-04-01T02:30:00, off by +3 days"
    })
    void ofTimes(LocalDateTime source, LocalDateTime target, String cause) {
        assertThat(words(Kind.TIMESTAMP, new Value.Timestamp(source), new Value.Timestamp(target)))
                .contains(cause);
    }

    @Test
    void ofDates() {
        assertThat(words(Kind.DATE, date(2026, 3, 4), date(2026, 4, 3))).contains("day and month swapped");
        assertThat(words(Kind.DATE, date(2026, 3, 4), date(2026, 3, 3))).contains("off by -1 day");
    }

    @Test
    void ofNull() {
        assertThat(words(Kind.TEXT, Value.NULL, new Value.Text(""))).contains("NULL to empty");
        assertThat(words(Kind.TEXT, new Value.Text("x"), Value.NULL)).contains("a value to NULL");
    }

    @Test
    void whatDiffersLooksDifferent() {
        Value kept = new Value.Real(0.9f);
        Value given = new Value.Double(0.9);
        assertThat(kept.beside(given)).hasToString("0.8999999761581421").isNotEqualTo(given.beside(kept));
        assertThat(given.beside(kept)).hasToString("0.9");
        assertThat(kept.beside(kept)).hasToString("0.9");
        assertThat(words(Kind.DOUBLE, given, kept)).contains("kept in 32 bits");
    }

    private static Value.Date date(int year, int month, int day) {
        return new Value.Date(java.time.LocalDate.of(year, month, day));
    }

    private static List<String> words(Kind kind, Value source, Value target) {
        return LikelyCause.of(kind, source, target).map(LikelyCause::words).stream()
                .toList();
    }

    /** Damage done to a whole column, and what is to be told of it. */
    private static Stream<Arguments> damages() {
        return Stream.of(
                damage("rounded to 2 decimals", Kind.DECIMAL, r -> number(r, 5), v -> v.setScale(2, HALF_UP)),
                damage("cut to 2 decimals", Kind.DECIMAL, r -> number(r, 5), v -> v.setScale(2, DOWN)),
                damage("cut to 0 decimals", Kind.DECIMAL, r -> number(r, 3), v -> v.setScale(0, DOWN)),
                damage(
                        "kept in 32 bits",
                        Kind.DOUBLE,
                        r -> number(r, 9),
                        v -> new BigDecimal(Float.toString(v.floatValue()))),
                damage(
                        "off by -4294967296",
                        Kind.DECIMAL,
                        r -> number(r, 1),
                        v -> v.subtract(new BigDecimal(1L << 32))),
                damage(
                        "overflow of 16 bits",
                        Kind.INTEGER,
                        r -> new BigDecimal(32768 + r.nextInt(40000)),
                        v -> new BigDecimal(v.shortValue())),
                damage("times 0.3048", Kind.DECIMAL, r -> number(r, 2), v -> v.multiply(new BigDecimal("0.3048"))),
                damage("divided by 1000", Kind.DECIMAL, r -> number(r, 2), v -> v.scaleByPowerOfTen(-3)),
                damage("sign turned", Kind.DECIMAL, r -> number(r, 2), BigDecimal::negate),
                text("cut at 8 bytes", LikelyCauseTest::letters, v -> {
                    byte[] bytes = v.getBytes(StandardCharsets.UTF_8);
                    String cut = new String(bytes, 0, 8, StandardCharsets.UTF_8);
                    return cut.endsWith("\uFFFD") ? cut.substring(0, cut.indexOf('\uFFFD')) : cut;
                }),
                text(
                        "cut at 12 characters",
                        LikelyCauseTest::letters,
                        v -> v.substring(0, v.offsetByCodePoints(0, 12))),
                text("UTF-8 encoded twice over", r -> "ü" + letters(r), v -> wrong(wrong(v))),
                text("UTF-8 read as Latin-1", r -> "ü" + letters(r), LikelyCauseTest::wrong),
                text("letters lost in encoding", r -> "ü" + letters(r), v -> v.replaceAll("[^\\x00-\\x7F]", "?")),
                text("trailing spaces", LikelyCauseTest::letters, v -> v + "   "));
    }

    private static String wrong(String text) {
        return new String(text.getBytes(StandardCharsets.UTF_8), StandardCharsets.ISO_8859_1);
    }

    private static BigDecimal number(Random random, int decimals) {
        return BigDecimal.valueOf(100_000 + random.nextLong(90_000_000_000_000L), decimals);
    }

    private static String letters(Random random) {
        StringBuilder text = new StringBuilder();
        for (int i = 0; i < 20; i++) {
            text.appendCodePoint("abcdefghij\u00e4\u00f6\u20ac".charAt(random.nextInt(13)));
        }
        return text.toString();
    }

    private static Arguments damage(
            String cause, Kind kind, Function<Random, BigDecimal> value, UnaryOperator<BigDecimal> done) {
        return Arguments.of(cause, kind, (Function<Random, Value[]>) r -> {
            BigDecimal v = value.apply(r);
            return new Value[] {new Value.Decimal(v), new Value.Decimal(done.apply(v))};
        });
    }

    private static Arguments text(String cause, Function<Random, String> value, UnaryOperator<String> done) {
        return Arguments.of(cause, Kind.TEXT, (Function<Random, Value[]>) r -> {
            String v = value.apply(r);
            return new Value[] {new Value.Text(v), new Value.Text(done.apply(v))};
        });
    }

    /** The one cause of a damaged column is told for all of its rows, and nothing besides. */
    @ParameterizedTest(name = "{0}")
    @MethodSource("damages")
    void causeOfAColumnIsFound(String cause, Kind kind, Function<Random, Value[]> pair) {
        long seed = new Random().nextLong();
        System.out.println("seed " + seed);
        Random random = new Random(seed);
        for (int round = 0; round < 50; round++) {
            ColumnCause column = new ColumnCause();
            int rows = 8 + random.nextInt(200);
            while (column.pairs() < rows) {
                Value[] values = pair.apply(random);
                if (sharptally.core.rows.KeyOrder.ASCENDING.compare(List.of(values[0]), List.of(values[1])) != 0) {
                    column.add(LikelyCause.all(kind, values[0], values[1]));
                }
            }
            assertThat(column.found()).as("seed %d", seed).containsExactly(new ColumnCause.Found(cause, rows));
        }
    }

    /** Of values that have nothing to do with each other, nothing is claimed; of one row alone no more than what is so. */
    @Test
    void nothingIsClaimedThatChanceExplains() {
        long seed = new Random().nextLong();
        System.out.println("seed " + seed);
        Random random = new Random(seed);
        int claimed = 0;
        for (int round = 0; round < 200; round++) {
            ColumnCause numbers = new ColumnCause();
            ColumnCause texts = new ColumnCause();
            ColumnCause dates = new ColumnCause();
            int rows = 1 + random.nextInt(60);
            for (int i = 0; i < rows; i++) {
                numbers.add(LikelyCause.all(
                        Kind.DECIMAL, new Value.Decimal(number(random, 3)), new Value.Decimal(number(random, 3))));
                texts.add(LikelyCause.all(Kind.TEXT, new Value.Text(letters(random)), new Value.Text(letters(random))));
                dates.add(LikelyCause.all(
                        Kind.DATE,
                        date(1990 + random.nextInt(40), 1 + random.nextInt(12), 1 + random.nextInt(28)),
                        date(1990 + random.nextInt(40), 1 + random.nextInt(12), 1 + random.nextInt(28))));
            }
            claimed += numbers.found().size()
                    + texts.found().size()
                    + dates.found().size();
        }
        assertThat(claimed).as("claims in 600 columns, seed %d", seed).isLessThan(12);
    }
}
