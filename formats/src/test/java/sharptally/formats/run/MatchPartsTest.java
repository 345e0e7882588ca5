package sharptally.formats.run;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import sharptally.core.compare.Counts;
import sharptally.core.compare.PartKeeper;
import sharptally.core.compare.RangeResult;
import sharptally.core.finding.Finding;
import sharptally.core.match.MatchPlanner;
import sharptally.core.match.TableMatch;
import sharptally.core.match.request.MatchRequest;
import sharptally.core.range.KeyRange;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Generation;
import sharptally.core.shape.KeyShape;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;

/** A run that was broken off while findings were put together, or just after, loses none of them when it is resumed. */
class MatchPartsTest {
    private static final TableShape READING = new TableShape(
            TableName.of("reading"),
            false,
            List.of(new ColumnShape(
                    "id",
                    "integer",
                    Optional.of(CanonicalType.of(Kind.INTEGER)),
                    false,
                    Generation.NONE,
                    Optional.empty())),
            List.of(new KeyShape(true, List.of("id"))),
            List.of(),
            false);
    private static final TableMatch MATCH =
            MatchPlanner.plan(READING, READING, MatchRequest.ofTables("reading", "reading", List.of(), List.of()));

    @TempDir
    Path folder;

    private MatchParts parts(Journal journal) {
        return new MatchParts(MATCH, folder, "findings/reading.jsonl", journal);
    }

    @ParameterizedTest
    @ValueSource(ints = {1, 2, 5})
    void joinedTwiceNothingIsLost(int ranges) throws Exception {
        Files.createDirectories(folder.resolve("findings"));
        try (Journal journal = Journal.begin(folder, Map.of())) {
            MatchParts parts = parts(journal);
            parts.cut(java.util.Collections.nCopies(ranges, KeyRange.ALL));
            for (int range = 0; range < ranges; range++) {
                List<Value> row = List.of(new Value.Int(range));
                try (PartKeeper.Sink sink = parts.open(range)) {
                    sink.accept(new Finding.Missing(row, row, 1, false));
                }
                parts.finish(range, new RangeResult(Counts.none(), "stream", List.of(), List.of()));
            }
            parts.join(false);
        }
        Path findings = folder.resolve("findings/reading.jsonl");
        List<String> whole = Files.readAllLines(findings);
        assertThat(whole).hasSize(ranges);
        for (int again = 0; again < 3; again++) {
            // As after a kill before the run's summary said that the match was complete.
            try (Journal journal = Journal.goOn(folder)) {
                MatchParts parts = parts(journal);
                assertThat(parts.finished(ranges - 1)).isPresent();
                parts.join(true);
            }
            assertThat(Files.readAllLines(findings)).isEqualTo(whole);
            assertThat(folder.resolve("findings/reading.parts")).doesNotExist();
        }
    }
}
