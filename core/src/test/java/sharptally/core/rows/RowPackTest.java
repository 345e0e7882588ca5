package sharptally.core.rows;

import static org.assertj.core.api.Assertions.assertThat;

import java.math.BigDecimal;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.UUID;
import org.junit.jupiter.api.Test;
import sharptally.core.types.Value;

/** Rows arrive as they were sent, whatever they hold, and wherever a pack ends. */
class RowPackTest {
    private static Value any(Random random) {
        return switch (random.nextInt(13)) {
            case 0 -> Value.NULL;
            case 1 -> new Value.Int(random.nextLong());
            case 2 -> new Value.Decimal(new BigDecimal("12345678901234567890123.4500"));
            case 3 -> new Value.Decimal(BigDecimal.valueOf(random.nextInt(), random.nextInt(5)));
            case 4 -> new Value.Double(random.nextGaussian());
            case 5 -> new Value.Text("gauge \u00e4\ud83c\udf0a".repeat(random.nextInt(300)));
            case 6 -> new Value.Bytes(new byte[random.nextInt(20_000)]);
            case 7 -> new Value.Date(LocalDate.ofEpochDay(random.nextInt(40_000)));
            case 8 -> new Value.Timestamp(LocalDateTime.of(2026, 1, 1, 0, 0).plusNanos(random.nextInt()));
            case 9 -> new Value.Instant(Instant.ofEpochSecond(random.nextInt(), random.nextInt(1_000_000_000)));
            case 10 -> new Value.Uuid(new UUID(random.nextLong(), random.nextLong()));
            case 11 -> new Value.Bool(random.nextBoolean());
            default -> new Value.Other("interval", "1 day");
        };
    }

    @Test
    void rowsArriveAsTheyWereSent() {
        long seed = Long.getLong("sharptally.seed", Long.getLong("sharptally.draw", System.nanoTime()));
        System.out.println("seed " + seed);
        Random random = new Random(seed);
        for (int round = 0; round < 20; round++) {
            int columns = 1 + random.nextInt(5);
            List<List<Value>> sent = new ArrayList<>();
            List<byte[]> packs = new ArrayList<>();
            RowPack pack = new RowPack();
            for (int i = random.nextInt(4_000); i > 0; i--) {
                List<Value> row = new ArrayList<>();
                List<Column> cells = RowCodec.emptyColumns(columns, 1);
                for (Column cell : cells) {
                    row.add(any(random));
                    cell.add(row.get(row.size() - 1));
                }
                sent.add(row);
                pack.add(cells, 0);
                if (random.nextInt(100) == 0) {
                    packs.add(pack.take());
                }
            }
            packs.add(pack.take());
            List<List<Value>> come = new ArrayList<>();
            try (RowSource rows = RowPack.rows(packs.iterator(), columns)) {
                for (var batch = rows.next(); batch.isPresent(); batch = rows.next()) {
                    for (int row = 0; row < batch.get().rows(); row++) {
                        come.add(batch.get().row(row));
                    }
                }
            }
            assertThat(come).as("seed " + seed).isEqualTo(sent);
        }
    }
}
