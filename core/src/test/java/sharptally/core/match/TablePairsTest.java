package sharptally.core.match;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.Collections;
import java.util.HashSet;
import java.util.List;
import java.util.Random;
import java.util.Set;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import sharptally.core.shape.TableName;

/** Tables of two sides pair by schema and name: each at most once, none across schemas, the same seen from either side. */
class TablePairsTest {
    private static final List<String> NAMES = List.of("station", "Station", "STATION", "reading", "t", "T", "größe");
    private static final List<String> SCHEMAS = List.of("public", "PUBLIC", "alt", "Alt", "more");

    private static List<TableName> tables(Random random, int schemas) {
        Set<TableName> tables = new HashSet<>();
        for (int i = 0; i < random.nextInt(14); i++) {
            tables.add(TableName.of(SCHEMAS.get(random.nextInt(schemas)), NAMES.get(random.nextInt(NAMES.size()))));
        }
        List<TableName> list = new ArrayList<>(tables);
        Collections.shuffle(list, random);
        return list;
    }

    @Test
    void everyTableIsInOnePairOrAlone() {
        long seed = Long.getLong("sharptally.seed", Long.getLong("sharptally.draw", System.nanoTime()));
        System.out.println("seed " + seed);
        Random random = new Random(seed);
        for (int i = 0; i < 20_000; i++) {
            String story = "seed " + seed + ", round " + i;
            List<TableName> one = tables(random, 1 + random.nextInt(SCHEMAS.size()));
            List<TableName> other = tables(random, 1 + random.nextInt(SCHEMAS.size()));
            TablePairs found = TablePairs.byName(one, "public", other, "public");
            assertThat(Stream.concat(found.pairs().stream().map(p -> p.get(0)), found.sourceOnly().stream()))
                    .as(story)
                    .containsExactlyInAnyOrderElementsOf(one);
            assertThat(Stream.concat(found.pairs().stream().map(p -> p.get(1)), found.targetOnly().stream()))
                    .as(story)
                    .containsExactlyInAnyOrderElementsOf(other);
            boolean single = schemas(one).size() == 1 && schemas(other).size() == 1;
            for (List<TableName> pair : found.pairs()) {
                assertThat(pair.get(0).name())
                        .as(story)
                        .isEqualToIgnoringCase(pair.get(1).name());
                if (!single) {
                    assertThat(pair.get(0).schema().orElseThrow())
                            .as(story)
                            .isEqualToIgnoringCase(pair.get(1).schema().orElseThrow());
                }
            }
            // What is exactly the same on both sides is one pair, whatever else looks like it.
            one.stream()
                    .filter(other::contains)
                    .filter(t -> !single)
                    .forEach(t -> assertThat(found.pairs()).as(story).contains(List.of(t, t)));
            TablePairs mirrored = TablePairs.byName(other, "public", one, "public");
            assertThat(mirrored.pairs().stream().map(p -> List.of(p.get(1), p.get(0))))
                    .as(story + ", seen from the other side")
                    .containsExactlyInAnyOrderElementsOf(found.pairs());
        }
    }

    private static Set<String> schemas(List<TableName> tables) {
        Set<String> schemas = new HashSet<>();
        tables.forEach(t -> schemas.add(t.schema().orElseThrow()));
        return schemas;
    }

    @Test
    void ourOwnTablesAreKnownByWhatStandsBesideThem() {
        List<TableName> record = Stream.of("tally_run", "tally_match", "tally_column", "tally_total", "tally_check")
                .map(TableName::of)
                .toList();
        assertThat(record).allMatch(t -> OwnTables.isOwn(t, record));
        assertThat(OwnTables.isOwn(TableName.of("tally_run"), record.subList(0, 4)))
                .as("a table of that name in somebody's own count")
                .isFalse();
        TableName kept = TableName.of("station_tally_was");
        assertThat(OwnTables.isOwn(kept, List.of(kept, TableName.of("station"))))
                .isTrue();
        assertThat(OwnTables.isOwn(kept, List.of(kept, TableName.of("alt", "station"))))
                .isFalse();
        assertThat(OwnTables.isOwn(TableName.of("vote_tally_2024"), List.of())).isFalse();
    }
}
