package sharptally.core.rows;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.util.Optional;
import java.util.Random;
import java.util.function.Supplier;
import org.junit.jupiter.api.Test;
import sharptally.core.types.TimeText;
import sharptally.core.types.Value;

/** What is read out of bytes is what the rules for all forms say of the same text, or it is left to them. */
class UsualTextTest {
    private static final int TEXTS = 400_000;
    private final long seed = new Random().nextLong();
    private final Random random = new Random(seed);

    private interface Reading {
        boolean add(byte[] bytes, int from, int length, Column out);
    }

    @Test
    void whatIsReadIsWhatTheTextSays() {
        System.out.println("UsualTextTest seed " + seed);
        int[] read = new int[6];
        for (int i = 0; i < TEXTS; i++) {
            String number = mutated(this::number);
            String time = mutated(this::time);
            read[0] += same(
                    number,
                    UsualText::addInteger,
                    t -> plain(t).filter(n -> n.scale() == 0).map(n -> new Value.Int(n.longValueExact())));
            read[1] += same(number, UsualText::addDecimal, t -> plain(t).map(Value.Decimal::new));
            read[2] += same(number, UsualText::addDouble, UsualTextTest::floating);
            read[3] += same(
                    time, UsualText::addDate, t -> TimeText.readTimestamp(t).map(d -> new Value.Date(d.toLocalDate())));
            read[4] += same(
                    time,
                    (b, from, length, out) -> UsualText.addTimestamp(b, from, length, out::addTimestamp),
                    t -> TimeText.readTimestamp(t).map(Value.Timestamp::new));
            read[5] += same(
                    time,
                    (b, from, length, out) -> UsualText.addInstant(b, from, length, out::addInstant),
                    t -> TimeText.readInstant(t).map(Value.Instant::new));
        }
        for (int i = 0; i < read.length; i++) {
            assertTrue(read[i] > TEXTS / 200, "of kind " + i + " only " + read[i]);
        }
    }

    private static int same(
            String text, Reading reading, java.util.function.Function<String, Optional<? extends Value>> rule) {
        byte[] bytes = ("##" + text + "##").getBytes(StandardCharsets.UTF_8);
        Column out = new Column(1);
        if (!reading.add(bytes, 2, bytes.length - 4, out)) {
            assertEquals(0, out.size(), text);
            return 0;
        }
        assertEquals(
                rule.apply(text).map(Object::toString), Optional.of(out.value(0).toString()), text);
        assertEquals(rule.apply(text), Optional.of(out.value(0)), text);
        return 1;
    }

    private static Optional<BigDecimal> plain(String text) {
        try {
            return Optional.of(new BigDecimal(text))
                    .filter(n -> n.toPlainString().equals(text));
        } catch (NumberFormatException e) {
            return Optional.empty();
        }
    }

    private static Optional<Value> floating(String text) {
        return text.matches("-?(0|[1-9]\\d*)(\\.\\d+)?([eE][+-]?\\d{1,4})?")
                ? Optional.of(new Value.Double(Double.parseDouble(text)))
                : Optional.empty();
    }

    private String number() {
        return switch (random.nextInt(6)) {
            case 0 -> Long.toString(random.nextLong() >> random.nextInt(64));
            case 1 -> Double.toString(Double.longBitsToDouble(random.nextLong()));
            case 2 -> Double.toString(random.nextInt(2_000_000) / 1000.0);
            case 3 -> Float.toString(random.nextFloat());
            case 4 ->
                BigDecimal.valueOf(random.nextLong() >> random.nextInt(64), random.nextInt(6))
                        .toPlainString();
            default -> String.valueOf(random.nextInt(20) - 10);
        };
    }

    private String time() {
        LocalDateTime at = LocalDateTime.ofEpochSecond(
                random.nextLong() % 200_000_000_000L,
                random.nextBoolean() ? 0 : random.nextInt(1_000_000_000),
                ZoneOffset.UTC);
        String[] offsets = {"", "Z", "+00", "+05:30", "-11", "+0545", " +02", "+18:00", "+19"};
        return switch (random.nextInt(5)) {
            case 0 -> at.toLocalDate().toString();
            case 1 -> TimeText.timestamp(at);
            case 2 ->
                Instant.ofEpochSecond(at.toEpochSecond(ZoneOffset.UTC), at.getNano())
                        .toString();
            case 3 -> at.withSecond(0).withNano(0).toString();
            default -> TimeText.timestamp(at) + offsets[random.nextInt(offsets.length)];
        };
    }

    /** As it is, or with a letter changed, doubled or lost. */
    private String mutated(Supplier<String> text) {
        StringBuilder made = new StringBuilder(text.get());
        if (random.nextInt(3) == 0) {
            int at = random.nextInt(made.length());
            switch (random.nextInt(3)) {
                case 0 -> made.setCharAt(at, "0123456789-+.:TZe /x\u0660".charAt(random.nextInt(21)));
                case 1 -> made.deleteCharAt(at);
                default -> made.insert(at, made.charAt(at));
            }
        }
        return made.toString();
    }
}
