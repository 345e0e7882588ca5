package sharptally.core.rule;

import static org.assertj.core.api.Assertions.assertThat;

import java.math.BigDecimal;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import org.junit.jupiter.api.Test;
import sharptally.core.rows.KeyOrder;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;

/** What is written in a form is read as the same value, and what the form can't tell is not written. */
class WrittenFormTest {
    private final long seed = Long.getLong("sharptally.seed", Long.getLong("sharptally.draw", System.nanoTime()));
    private final Random random = new Random(seed);

    @SafeVarargs
    private <T> T pick(T... all) {
        return all[random.nextInt(all.length)];
    }

    @Test
    void whatIsWrittenIsReadAsItWas() {
        System.out.println("seed " + seed);
        int told = 0;
        for (int i = 0; i < 20_000; i++) {
            boolean number = random.nextBoolean();
            String decimal = pick(".", ",");
            Optional<String> thousands = Optional.of(pick(decimal.equals(".") ? "," : ".", " ", "'", "\u00a0"))
                    .filter(t -> random.nextBoolean());
            Rule.Written plain = number
                    ? Rule.Written.number(decimal, thousands)
                    : Rule.Written.time(pick("dd.MM.yyyy", "MM/dd/yyyy HH:mm:ss", "d MMM yyyy H:mm", "yyyyMMddHHmmss"));
            Rule.Written rule = number && random.nextBoolean() ? plain.in(pick("m", "hPa", "\u00b0C", "$ (x)")) : plain;
            Kind kind = number ? pick(Kind.DECIMAL, Kind.INTEGER, Kind.DOUBLE) : pick(Kind.TIMESTAMP, Kind.DATE);
            Value value = number ? number(kind) : time(kind);
            WrittenForm form = new WrittenForm(rule);
            Optional<String> written = form.write(value, kind);
            String story = "seed " + seed + " " + rule + " " + kind + " " + value + " " + written;
            told += written.isPresent() ? 1 : 0;
            written.ifPresent(text -> assertThat(form.read(text, kind))
                    .as(story)
                    .hasValueSatisfying(read -> assertThat(KeyOrder.ASCENDING.compare(List.of(read), List.of(value)))
                            .as(story)
                            .isZero()));
            if (kind == Kind.INTEGER || kind == Kind.DECIMAL) {
                assertThat(written).as(story).isPresent();
            }
        }
        assertThat(told).isGreaterThan(8_000);
        WrittenForm toTheDay = new WrittenForm(Rule.Written.time("dd.MM.yyyy"));
        assertThat(toTheDay.write(new Value.Timestamp(LocalDateTime.of(2026, 11, 30, 6, 0)), Kind.TIMESTAMP))
                .isEmpty();
        assertThat(new WrittenForm(Rule.Written.number(",", Optional.of(".")).in("m"))
                        .write(new Value.Decimal(new BigDecimal("-1234567.50")), Kind.DECIMAL))
                .contains("-1.234.567,50 m");
    }

    private Value number(Kind kind) {
        return switch (kind) {
            case INTEGER -> new Value.Int(random.nextLong() >> random.nextInt(64));
            case DOUBLE ->
                new Value.Double(pick(
                        random.nextDouble() * 1e6, Double.longBitsToDouble(random.nextLong()), 0.1, -0.0, Double.NaN));
            default ->
                new Value.Decimal(BigDecimal.valueOf(random.nextLong() >> random.nextInt(64), random.nextInt(9)));
        };
    }

    private Value time(Kind kind) {
        LocalDateTime at = LocalDateTime.ofInstant(
                Instant.ofEpochSecond(
                        random.nextInt(2_000_000_000), random.nextBoolean() ? 0 : random.nextInt(1_000_000)),
                ZoneOffset.UTC);
        return kind == Kind.DATE ? new Value.Date(LocalDate.from(at)) : new Value.Timestamp(at);
    }
}
