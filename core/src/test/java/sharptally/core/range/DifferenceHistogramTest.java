package sharptally.core.range;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.RepeatedTest;
import sharptally.core.types.Value;

/** Random rows, some of which differ: cells keep all of them, in order, and of about one size. */
class DifferenceHistogramTest {
    @RepeatedTest(50)
    void cellsHoldEveryRowOnceInKeyOrder() {
        long seed = System.nanoTime();
        System.out.println("seed " + seed);
        Random random = new Random(seed);
        int rows = 1 + random.nextInt(100_000);
        List<Integer> differing = new ArrayList<>();
        DifferenceHistogram damage = new DifferenceHistogram();
        for (int i = 0; i < rows; i++) {
            List<Value> key = List.of(new Value.Int(i));
            damage.start(() -> key);
            boolean differs = random.nextInt(50) == 0;
            if (differs) {
                differing.add(i);
            }
            damage.pass(1, differs ? 1 : 0);
        }
        List<DifferenceHistogram.Cell> condensed = DifferenceHistogram.condensed(damage.cells(), 60);
        assertThat(condensed.size()).isBetween(Math.min(rows, 25), 60);
        long passed = 0;
        for (DifferenceHistogram.Cell cell : condensed) {
            assertThat(cell.from()).isEqualTo(List.of(new Value.Int(passed)));
            long from = passed;
            long to = passed + cell.rows();
            assertThat(cell.differing())
                    .isEqualTo(
                            differing.stream().filter(d -> d >= from && d < to).count());
            passed = to;
        }
        assertThat(passed).isEqualTo(rows);
    }
}
