package sharptally.core.compare.record;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import sharptally.core.place.Side;

/** What is left is what a list of all rows leaves, however little memory there is, and in whatever order rows come. */
class HashTallyTest {
    @TempDir
    Path folder;

    /** A row of a side, so many times. */
    private record Given(Side side, long key, long row, long times) {}

    @Test
    void leavesTheKeysOfRowsThatHaveNoEqualOnes() throws Exception {
        long seed = Long.getLong("sharptally.seed", Long.getLong("sharptally.draw", System.nanoTime()));
        System.out.println("seed " + seed);
        Random random = new Random(seed);
        for (int round = 0; round < 300; round++) {
            boolean wholeRow = random.nextBoolean();
            int keys = 1 + random.nextInt(400);
            long[] hashes = random.longs(keys).toArray();
            List<Given> given = new ArrayList<>();
            for (int i = 0; i < 3 * keys; i++) {
                long key = hashes[random.nextInt(keys)];
                long row = wholeRow ? key * 31 : random.nextInt(20) == 0 ? 7 : key * 31;
                given.add(new Given(
                        random.nextBoolean() ? Side.SOURCE : Side.TARGET,
                        key,
                        row,
                        1 + random.nextInt(wholeRow ? 4 : 1)));
            }
            for (long key : hashes) {
                if (random.nextInt(3) > 0) {
                    given.removeIf(g -> g.key == key);
                    given.add(new Given(Side.SOURCE, key, key * 31, 1));
                    given.add(random.nextInt(given.size() + 1), new Given(Side.TARGET, key, key * 31, 1));
                }
            }
            Set<Long> left = new HashSet<>();
            Set<Long> sampled = new HashSet<>();
            HashTally.Told told;
            try (HashTally tally = new HashTally(
                    wholeRow,
                    1 + random.nextInt(40),
                    random.nextInt(3) == 0 ? 1 << 20 : random.nextInt(80_000),
                    folder)) {
                given.forEach(g -> tally.add(g.side, g.key, g.row, g.times));
                told = tally.tell(8, key -> assertThat(left.add(key)).isTrue(), sampled::add);
            }
            expect("seed " + seed + " round " + round, wholeRow, given, told, left, sampled);
            try (Stream<Path> files = Files.list(folder)) {
                assertThat(files).isEmpty();
            }
        }
    }

    private static void expect(
            String story, boolean wholeRow, List<Given> given, HashTally.Told told, Set<Long> left, Set<Long> sampled) {
        Map<Long, List<Given>> byKey = new TreeMap<>();
        given.forEach(g -> byKey.computeIfAbsent(g.key, k -> new ArrayList<>()).add(g));
        Set<Long> expected = new HashSet<>();
        long equal = 0;
        long ofSource = 0;
        long ofTarget = 0;
        for (var entry : byKey.entrySet()) {
            List<Given> rows = entry.getValue();
            long source = rows.stream()
                    .filter(g -> g.side == Side.SOURCE)
                    .mapToLong(Given::times)
                    .sum();
            long target = rows.stream()
                    .filter(g -> g.side == Side.TARGET)
                    .mapToLong(Given::times)
                    .sum();
            boolean alike = rows.stream().map(Given::row).distinct().count() == 1;
            if (alike && source == target && (wholeRow || source == 1)) {
                equal += source;
            } else {
                expected.add(entry.getKey());
                ofSource += source;
                ofTarget += target;
            }
        }
        assertThat(left).as(story).isEqualTo(expected);
        assertThat(told.equal()).as(story).isEqualTo(equal);
        assertThat(told.sourceLeft()).as(story).isEqualTo(ofSource);
        assertThat(told.targetLeft()).as(story).isEqualTo(ofTarget);
        assertThat(sampled).as(story).noneMatch(expected::contains);
        assertThat(told.sampled()).as(story).isEqualTo(wholeRow ? 0 : sampled.size());
    }
}
