package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A short soak: a round or two of random databases under an oracle of its own; {@code bench/soak} goes on for hours. */
@InTurn(2)
class SoakTest {
    private static final int ROUNDS = Integer.getInteger("sharptally.rounds", 1);

    @TempDir
    Path folder;

    @Test
    void randomDatabasesDifferExactlyWhereTheyWereEdited() throws Exception {
        long seed = Seed.next();
        System.out.println("seed " + seed);
        Soak soak = new Soak(folder);
        for (int round = 0; round < ROUNDS; round++) {
            soak.round(seed + round);
        }
        assertThat(soak.failures()).isEmpty();
    }

    /** An oracle that overlooks one difference fails, and what is left of the case is the row of that difference. */
    @Test
    void aFailingCaseIsMadeSmall() throws Exception {
        long seed = 1;
        SoakTable table = new SoakTable(new Random(seed), "", "t1", 60);
        while (!isSmallWithDifferences(table)) {
            table = new SoakTable(new Random(++seed), "", "t1", 60);
        }
        String difference = table.expected((t, row) -> true).keySet().iterator().next();
        String overlooked = difference.substring(difference.indexOf(' ') + 1);
        String smaller = new SoakSmaller(folder)
                .smaller(
                        new Soak.Pair(
                                new Database(Database.Kind.SQLITE, folder, "one"),
                                new Database(Database.Kind.SQLITE, folder, "two"),
                                List.of(table)),
                        table,
                        List.of("--method", "stream"),
                        (t, row) -> !t.keyText(row).equals(overlooked));
        assertThat(smaller).startsWith("smaller: t1: expected {}").contains(difference);
        assertThat(smaller.lines().filter(l -> l.startsWith("    ")))
                .as(smaller)
                .hasSizeLessThanOrEqualTo(2);
    }

    private static boolean isSmallWithDifferences(SoakTable table) {
        return !table.key.isEmpty()
                && table.key.stream().allMatch(c -> table.types.get(c) == SoakTable.Type.INT)
                && table.source.size() > 6
                && table.source.size() < 12
                && table.expected((t, row) -> true).size() > 1
                && table.onlyInSource.isEmpty()
                && table.onlyInTarget.isEmpty();
    }
}
