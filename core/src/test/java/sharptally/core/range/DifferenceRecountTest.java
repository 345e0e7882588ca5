package sharptally.core.range;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import sharptally.core.types.Value;

class DifferenceRecountTest {
    /** Rows are counted once more over cells that other rows made; the same rows give the same cells. */
    @Test
    void countsEachKeyInTheCellThatHoldsIt() {
        long seed = System.nanoTime();
        System.out.println("damage counted again, seed " + seed);
        Random random = new Random(seed);
        for (int round = 0; round < 50; round++) {
            DifferenceHistogram damage = new DifferenceHistogram();
            List<List<Value>> differing = new ArrayList<>();
            int rows = 1 + random.nextInt(3000);
            for (int i = 0; i < rows; i++) {
                List<Value> key = List.of(new Value.Int(i / 7), new Value.Text("k" + (char) ('a' + i % 7)));
                boolean differs = random.nextInt(20) == 0;
                damage.start(() -> key);
                damage.pass(1, differs ? 1 : 0);
                if (differs) {
                    differing.add(key);
                }
            }
            DifferenceRecount all = new DifferenceRecount(damage.cells());
            differing.forEach(key -> {
                all.add(key);
                all.add(key);
            });
            assertThat(all.cells()).as("seed " + seed).isEqualTo(damage.cells());
            assertThat(new DifferenceRecount(damage.cells()).cells()).allMatch(c -> c.differing() == 0);
        }
        DifferenceRecount none = new DifferenceRecount(List.of());
        none.add(List.of(new Value.Int(1)));
        assertThat(none.cells()).isEmpty();
    }
}
