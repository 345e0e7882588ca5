package sharptally.engines.files.kept;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Random;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import sharptally.core.fault.ToolException;
import sharptally.core.rows.Column;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowSource;

/** Rows that were kept come back as they were, or are told to be damaged, whichever bit of them is another one. */
class KeptRowsTest {
    private static final int ROWS = 3_000;
    private static final int FLIPS = 400;

    @TempDir
    Path folder;

    private static RowSource rows(Random random) {
        Column numbers = new Column(ROWS);
        Column texts = new Column(ROWS);
        for (int row = 0; row < ROWS; row++) {
            if (random.nextInt(9) == 0) {
                numbers.addNull();
            } else {
                numbers.addDecimal("12345678901234567890123." + random.nextInt(1_000_000));
            }
            texts.addText("remark " + random.nextLong());
        }
        return new RowSource() {
            private boolean done;

            @Override
            public Optional<RowBatch> next() {
                boolean first = !done;
                done = true;
                return first ? Optional.of(new RowBatch(List.of(numbers, texts), ROWS)) : Optional.empty();
            }

            @Override
            public void close() {}
        };
    }

    private static String all(RowSource source) {
        StringBuilder all = new StringBuilder();
        try (source) {
            for (Optional<RowBatch> batch = source.next(); batch.isPresent(); batch = source.next()) {
                for (int row = 0; row < batch.get().rows(); row++) {
                    all.append(batch.get().column(0).value(row))
                            .append('|')
                            .append(batch.get().column(1).value(row))
                            .append('\n');
                }
            }
        }
        return all.toString();
    }

    @Test
    void everyFlippedBitIsTold() throws IOException {
        long seed = Long.getLong("sharptally.seed", Long.getLong("sharptally.draw", System.nanoTime()));
        System.out.println("seed " + seed);
        Path dump = Files.writeString(folder.resolve("dump.sql"), "-- a dump");
        Kept kept = Kept.of(folder.resolve("kept"), dump, "state", Duration.ofDays(1))
                .orElseThrow();
        KeptRows rows = new KeptRows(kept, "t");
        int[] both = {0, 1};
        String written = all(rows.keeping(rows(new Random(seed)), both));
        assertThat(all(rows.read(2, both, 0, OptionalLong.empty()))).isEqualTo(written);
        Path file;
        try (Stream<Path> files = Files.list(kept.folder())) {
            file = files.filter(f -> f.toString().endsWith(KeptRows.ENDING))
                    .findFirst()
                    .orElseThrow();
        }
        byte[] right = Files.readAllBytes(file);
        Random random = new Random(seed);
        for (int flip = 0; flip < FLIPS; flip++) {
            byte[] wrong = right.clone();
            int at = random.nextInt(wrong.length);
            wrong[at] ^= (byte) (1 << random.nextInt(8));
            Files.write(file, wrong);
            assertThatThrownBy(() -> all(rows.read(2, both, 0, OptionalLong.empty())))
                    .as("byte %d of %d", at, wrong.length)
                    .isInstanceOf(ToolException.class)
                    .hasMessageContaining("damaged");
        }
    }
}
