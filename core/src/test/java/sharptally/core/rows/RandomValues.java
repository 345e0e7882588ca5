package sharptally.core.rows;

import java.math.BigDecimal;
import java.math.BigInteger;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.Random;
import java.util.UUID;
import sharptally.core.types.Value;

/** Values of every case, edges among them. */
public final class RandomValues {
    private RandomValues() {}

    public static Value any(Random random) {
        return switch (random.nextInt(14)) {
            case 0 -> Value.NULL;
            case 1 -> new Value.Bool(random.nextBoolean());
            case 2 -> new Value.Int(random.nextBoolean() ? random.nextInt(3) : random.nextLong());
            case 3 -> new Value.Decimal(BigDecimal.valueOf(random.nextInt(40) - 20, random.nextInt(3)));
            case 4 -> new Value.Decimal(new BigDecimal(new BigInteger(80, random), random.nextInt(50) - 5));
            case 5 -> new Value.Real(random.nextBoolean() ? random.nextInt(3) : random.nextFloat());
            case 6 ->
                new Value.Double(new double[] {0, -0.0, 1, 1.5, Double.NaN, 1 / 0.0, -1 / 0.0, 0x1p62, 4.9e-324}
                        [random.nextInt(9)]);
            case 7 -> new Value.Text(new String[] {"", "a", "A", "\0", "é", "🌊", "\uFFFC", "ab"}[random.nextInt(8)]);
            case 8 -> new Value.BrokenText(new byte[] {(byte) 0xFF, (byte) random.nextInt()});
            case 9 -> new Value.Bytes(new byte[] {(byte) random.nextInt()});
            case 10 -> new Value.Date(LocalDate.of(-4000, 1, 1).plusDays(random.nextInt(5_000_000)));
            case 11 -> new Value.Timestamp(LocalDateTime.of(1, 1, 1, 0, 0).plusNanos(random.nextLong()));
            case 12 ->
                random.nextBoolean()
                        ? new Value.Time(random.nextLong() >> 10)
                        : new Value.Instant(Instant.ofEpochSecond(random.nextInt(), random.nextInt(1_000_000_000)));
            default ->
                random.nextBoolean()
                        ? new Value.Uuid(new UUID(random.nextLong(), random.nextInt(2)))
                        : new Value.Other("interval", "P" + random.nextInt(3) + "D");
        };
    }
}
