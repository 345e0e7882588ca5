package sharptally.formats.run;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import sharptally.core.compare.Counts;
import sharptally.core.compare.PartKeeper;
import sharptally.core.compare.RangeResult;
import sharptally.core.finding.Finding;
import sharptally.core.finding.FindingKind;
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

    /** Where nothing was found, nothing is forced to the disk: whatever a loss of power takes, it is done again or not needed. */
    @Test
    void whatWasNotForcedToTheDiskIsNotMissed() throws Exception {
        Path findings = folder.resolve("findings/reading.jsonl");
        Files.createDirectories(findings.getParent());
        try (Journal journal = Journal.begin(folder, Map.of())) {
            MatchParts parts = parts(journal);
            parts.cut(List.of(KeyRange.ALL));
            parts.open(0).close();
            parts.finish(0, new RangeResult(Counts.allSame(7, 1), "stream", List.of(), List.of()));
            parts.join(true);
        }
        Path file = folder.resolve("journal.jsonl");
        List<String> lines = Files.readAllLines(file);
        for (int kept = lines.size(); kept > 0; kept--) {
            Files.write(file, lines.subList(0, kept));
            Files.deleteIfExists(findings);
            try (Journal journal = Journal.goOn(folder)) {
                MatchParts parts = parts(journal);
                if (parts.finished(0).isEmpty()) {
                    parts.cut(List.of(KeyRange.ALL));
                    parts.open(0).close();
                    parts.finish(0, new RangeResult(Counts.allSame(7, 1), "stream", List.of(), List.of()));
                }
                parts.join(true);
            }
            assertThat(findings).as(kept + " lines").isEmptyFile();
        }
        // What holds findings was forced to the disk; if it is gone all the same, that is not passed over.
        try (Journal journal = Journal.begin(folder.resolve("findings"), Map.of())) {
            MatchParts parts = new MatchParts(MATCH, folder, "findings/other.jsonl", journal);
            parts.cut(List.of(KeyRange.ALL));
            List<Value> row = List.of(new Value.Int(1));
            try (PartKeeper.Sink sink = parts.open(0)) {
                sink.accept(new Finding.Missing(row, row, 1, false));
            }
            parts.finish(
                    0,
                    new RangeResult(
                            new Counts(1, 0, 0, Map.of(FindingKind.MISSING, 1L), List.of()),
                            "stream",
                            List.of(),
                            List.of()));
            parts.join(true);
        }
        Files.delete(folder.resolve("findings/other.jsonl"));
        try (Journal journal = Journal.goOn(folder.resolve("findings"))) {
            new MatchParts(MATCH, folder, "findings/other.jsonl", journal).join(true);
        }
        assertThat(folder.resolve("findings/other.jsonl")).doesNotExist();
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
