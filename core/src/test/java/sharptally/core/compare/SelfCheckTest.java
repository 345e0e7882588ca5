package sharptally.core.compare;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatCode;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.function.Supplier;
import java.util.stream.LongStream;
import org.junit.jupiter.api.Test;
import sharptally.core.compare.checksum.SelfCheck;
import sharptally.core.range.KeyRange;
import sharptally.core.types.Value;

/** How much the self-check reads, and what it takes for a lie. */
class SelfCheckTest {
    private static final long NLICE = 1_000;

    /** Slices of a key without gaps; what sums and rows say is told by the test. */
    private static final class Slices implements SelfCheck.Look {
        final List<Long> read = new ArrayList<>();
        final SelfCheck check;
        Supplier<Boolean> sums = () -> true;
        Supplier<Boolean> rows = () -> false;

        Slices(SelfCheck check) {
            this.check = check;
        }

        static List<SelfCheck.Same> of(long count) {
            return LongStream.range(0, count)
                    .mapToObj(i -> new SelfCheck.Same(range(i * NLICE, (i + 1) * NLICE), NLICE))
                    .toList();
        }

        static KeyRange range(long from, long to) {
            return new KeyRange(List.of(new Value.Int(from)), List.of(new Value.Int(to)));
        }

        static long at(List<Value> bound) {
            return ((Value.Int) bound.get(0)).value();
        }

        @Override
        public List<KeyRange> pieces(SelfCheck.Same slice, long wanted) {
            KeyRange piece =
                    check.stretch(at(slice.keys().from()), at(slice.keys().to()), slice.rows(), wanted);
            assertThat(at(piece.from())).isGreaterThanOrEqualTo(at(slice.keys().from()));
            assertThat(at(piece.to())).isLessThanOrEqualTo(at(slice.keys().to()));
            return List.of(piece);
        }

        @Override
        public boolean sumsAreEqual(KeyRange keys) {
            return sums.get();
        }

        @Override
        public boolean rowsDiffer(KeyRange keys) {
            read.add(at(keys.to()) - at(keys.from()));
            return rows.get();
        }
    }

    @Test
    void atMostOneRowOfAThousandIsReadHoweverTheRangesFall() {
        long seed = Long.getLong("sharptally.seed", Long.getLong("sharptally.draw", System.nanoTime()));
        System.out.println("seed " + seed);
        Random random = new Random(seed);
        SelfCheck check = new SelfCheck(random);
        Slices slices = new Slices(check);
        long passed = 0;
        for (int range = 0; range < 300; range++) {
            long count = random.nextInt(random.nextBoolean() ? 3 : 400);
            passed += count * NLICE;
            check.look(Slices.of(count), slices);
            long read = slices.read.stream().mapToLong(n -> n).sum();
            assertThat(read).as("seed " + seed).isLessThanOrEqualTo(passed / 1_000);
        }
        assertThat(slices.read.stream().mapToLong(n -> n).sum())
                .as("seed " + seed + ": and not much less")
                .isGreaterThan(passed / 2_000);
    }

    @Test
    void rowsThatDifferUnderSumsThatStayEqualAreALie() {
        SelfCheck check = new SelfCheck(new Random(1));
        Slices slices = new Slices(check);
        slices.rows = () -> true;
        assertThatThrownBy(() -> check.look(Slices.of(4), slices)).isInstanceOf(SelfCheck.Mistrusted.class);
        assertThat(slices.read).as("looked at three times before it is said").hasSize(3);
    }

    @Test
    void rowsThatMerelyChangedMeanwhileAreNone() {
        SelfCheck check = new SelfCheck(new Random(1));
        Slices changing = new Slices(check);
        changing.rows = () -> true;
        int[] asked = {0};
        changing.sums = () -> ++asked[0] % 2 == 1; // equal before the rows are read, not any more afterwards
        assertThatCode(() -> check.look(Slices.of(40), changing)).doesNotThrowAnyException();
        Slices settled = new Slices(check);
        int[] times = {0};
        settled.rows = () -> times[0]++ < 2; // differing twice, as after a change that was taken back
        assertThatCode(() -> check.look(Slices.of(4), settled)).doesNotThrowAnyException();
    }

    @Test
    void keysFromOneEndOfTheNumbersToTheOtherCanBeLookedAt() {
        SelfCheck check = new SelfCheck(new Random(1));
        for (int i = 0; i < 1_000; i++) {
            KeyRange piece = check.stretch(Long.MIN_VALUE, Long.MAX_VALUE, 1_000, 1);
            assertThat(Slices.at(piece.from())).isLessThan(Slices.at(piece.to()));
        }
    }
}
