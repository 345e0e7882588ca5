package sharptally.core.compare;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.stream.Stream;
import org.junit.jupiter.api.RepeatedTest;
import org.junit.jupiter.api.io.TempDir;
import sharptally.core.rows.CellOrder;
import sharptally.core.rows.Column;
import sharptally.core.rows.RandomValues;
import sharptally.core.rows.RowBatch;
import sharptally.core.sort.ExternalSort;
import sharptally.core.types.Value;

class ExternalSortTest {
    @TempDir
    Path folder;

    /** Whoever reads may leave while rows are still gathered, written or merged: nothing stays behind. */
    @RepeatedTest(40)
    void closedAtAnyMomentItLeavesNoFile() throws Exception {
        long seed = System.nanoTime();
        Random random = new Random(seed);
        List<List<Value>> rows = new ArrayList<>();
        for (int i = 20_000; i > 0; i--) {
            rows.add(List.of(new Value.Int(random.nextInt()), new Value.Text("level " + i)));
        }
        var sort = new ExternalSort(ListPlace.of(rows, 2, 100), batch -> List.of(batch.column(0)), 1 << 15, folder);
        Thread reader = new Thread(() -> {
            try {
                while (sort.next().isPresent()) {
                    Thread.onSpinWait();
                }
            } catch (RuntimeException e) {
                // it was closed meanwhile
            }
        });
        reader.start();
        Thread.sleep(random.nextInt(60));
        sort.close();
        reader.join();
        try (Stream<Path> files = Files.list(folder)) {
            assertThat(files).as("seed %d", seed).isEmpty();
        }
    }

    @RepeatedTest(30)
    void rowsComeOutInOrderAndNoneIsLost() {
        long seed = System.nanoTime();
        Random random = new Random(seed);
        List<List<Value>> rows = new ArrayList<>();
        for (int i = random.nextInt(3_000); i > 0; i--) {
            rows.add(List.of(RandomValues.any(random), new Value.Int(i)));
        }
        long chunkBytes = 1L << random.nextInt(18);
        List<List<Value>> sorted = new ArrayList<>();
        try (var sort =
                new ExternalSort(ListPlace.of(rows, 2, 100), batch -> List.of(batch.column(0)), chunkBytes, folder)) {
            for (Optional<RowBatch> batch = sort.next(); batch.isPresent(); batch = sort.next()) {
                for (int i = 0; i < batch.get().rows(); i++) {
                    sorted.add(batch.get().row(i));
                }
            }
        }
        assertThat(sorted).as("seed %d", seed).containsExactlyInAnyOrderElementsOf(rows);
        Column keys = new Column(sorted.size());
        sorted.forEach(row -> keys.add(row.get(0)));
        for (int i = 1; i < sorted.size(); i++) {
            assertThat(CellOrder.compare(keys, i - 1, keys, i))
                    .as("seed %d", seed)
                    .isNotPositive();
        }
    }
}
