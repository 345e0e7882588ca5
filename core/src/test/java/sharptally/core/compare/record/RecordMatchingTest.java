package sharptally.core.compare.record;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import sharptally.core.rows.RecordHash;

/** Records that are passed over are those that have exactly one equal record, whether their hashes were spilled or not. */
class RecordMatchingTest {
    private static final int ROUNDS = 80;

    @TempDir
    Path folder;

    /** A record; no key where it is negative. */
    private record Row(long key, long row) {}

    @Test
    void thoseThatArePassedOverHaveOneEqualRecord() throws Exception {
        long seed = Long.getLong("sharptally.seed", Long.getLong("sharptally.draw", System.nanoTime()));
        System.out.println("seed " + seed);
        Random random = new Random(seed);
        int spilled = 0;
        for (int round = 0; round < ROUNDS; round++) {
            int keys = 1 + random.nextInt(random.nextBoolean() ? 30 : 20_000);
            boolean wholeRow = random.nextInt(3) == 0;
            List<Row> source = rows(random, keys, wholeRow);
            List<Row> target = rows(random, keys, wholeRow);
            long memory = random.nextBoolean() ? 1 << 24 : 1 << 10;
            String story = "seed " + seed + " round " + round;
            try (RecordSpill ofSource = spill(source, memory);
                    RecordSpill ofTarget = spill(target, memory)) {
                spilled += isSpilled() ? 1 : 0;
                RecordMatching matching =
                        new RecordMatching(wholeRow, Math.max(source.size(), target.size()), 0, true, true);
                for (int part = 0; part < RecordSpill.PARTS; part++) {
                    matching.match(ofSource.part(part), ofTarget.part(part));
                }
                BitSet others = matching.source(source.size());
                BitSet othersOfTarget = matching.target(target.size());
                Set<Integer> expected = wholeRow ? wholeRows(source, target) : keyed(source, target);
                Set<Integer> expectedOfTarget = wholeRow ? wholeRows(target, source) : keyed(target, source);
                // The first row of all stands for those of which some are wanted in any case.
                if (!wholeRow) {
                    expected.remove(0);
                }
                assertThat(clear(others, source.size())).as(story).isEqualTo(expected);
                assertThat(matching.equal()).as(story).isEqualTo(expected.size());
                assertThat(matching.keysOfSource().sorted()).as(story).isEqualTo(keys(source, others));
                assertThat(matching.keysOfTarget().sorted()).as(story).isEqualTo(keys(target, othersOfTarget));
                assertThat(clear(othersOfTarget, target.size()))
                        .as(story)
                        .hasSameSizeAs(expected)
                        .isSubsetOf(expectedOfTarget);
            }
            assertThat(isSpilled()).as(story).isFalse();
        }
        assertThat(spilled).isBetween(ROUNDS / 5, ROUNDS - ROUNDS / 5);
    }

    private boolean isSpilled() throws Exception {
        try (var files = Files.list(folder)) {
            return files.findAny().isPresent();
        }
    }

    private static Set<Integer> clear(BitSet others, int rows) {
        return IntStream.range(0, rows).filter(i -> !others.get(i)).boxed().collect(Collectors.toSet());
    }

    private static long[] keys(List<Row> rows, BitSet others) {
        return others.stream()
                .mapToLong(i -> rows.get(i).key)
                .filter(key -> key >= 0)
                .sorted()
                .toArray();
    }

    private static List<Row> rows(Random random, int keys, boolean wholeRow) {
        List<Row> rows = new ArrayList<>();
        for (int i = random.nextInt(2_000); i > 0; i--) {
            // As hashes are, but for the first bits: few of the parts are filled.
            long key = random.nextInt(20) == 0 ? -1 : (random.nextInt(keys) * 0x9E37_79B9_7F4A_7C15L) >>> 7;
            rows.add(new Row(key, !wholeRow && random.nextInt(8) == 0 ? 7 : key * 31));
        }
        return rows;
    }

    private RecordSpill spill(List<Row> rows, long memory) {
        RecordSpill spill = new RecordSpill(folder, memory);
        for (Row row : rows) {
            if (row.key < 0) {
                spill.takeWithoutKey();
            } else {
                spill.take(row.key, row.row);
            }
        }
        return spill;
    }

    /** Rows of a key that each side has once, and alike. */
    private static Set<Integer> keyed(List<Row> rows, List<Row> others) {
        Map<Long, Long> count = counts(rows);
        Map<Long, Long> countOfOthers = counts(others);
        Set<Row> equal = new HashSet<>(others);
        return IntStream.range(0, rows.size())
                .filter(i -> rows.get(i).key >= 0
                        && count.get(rows.get(i).key) == 1
                        && countOfOthers.getOrDefault(rows.get(i).key, 0L) == 1
                        && equal.contains(rows.get(i)))
                .boxed()
                .collect(Collectors.toSet());
    }

    private static Map<Long, Long> counts(List<Row> rows) {
        Map<Long, Long> counts = new HashMap<>();
        rows.forEach(r -> counts.merge(r.key, 1L, Long::sum));
        return counts;
    }

    /** Rows that both sides have as often. */
    private static Set<Integer> wholeRows(List<Row> rows, List<Row> others) {
        Map<Row, Long> counts = new HashMap<>();
        rows.forEach(r -> counts.merge(r, 1L, Long::sum));
        others.forEach(r -> counts.merge(r, -1L, Long::sum));
        return IntStream.range(0, rows.size())
                .filter(i -> rows.get(i).key >= 0 && counts.get(rows.get(i)) == 0)
                .boxed()
                .collect(Collectors.toSet());
    }

    @Test
    void hashesTellFieldsApart() {
        RecordHash hash = new RecordHash(2, new Random(1));
        Set<Long> seen = new HashSet<>();
        int fields = 0;
        for (int length = 0; length < 40; length++) {
            for (int at = 0; at <= length; at++) {
                byte[] bytes = new byte[50];
                if (at < length) {
                    bytes[at + 3] = 1;
                }
                fields++;
                seen.add(hash.ofField(bytes, 3, length));
                // What stands around a field is none of it.
                bytes[2] = 9;
                bytes[length + 3] = 9;
                seen.add(hash.ofField(bytes, 3, length));
            }
        }
        assertThat(seen).hasSize(fields);
        long a = hash.ofField("a".getBytes(StandardCharsets.UTF_8), 0, 1);
        long b = hash.ofField("b".getBytes(StandardCharsets.UTF_8), 0, 1);
        assertThat(hash.inRow(0, a) + hash.inRow(1, b)).isNotEqualTo(hash.inRow(0, b) + hash.inRow(1, a));
    }
}
