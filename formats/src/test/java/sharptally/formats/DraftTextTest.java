package sharptally.formats;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import org.junit.jupiter.api.RepeatedTest;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import sharptally.core.draft.Draft;
import sharptally.core.match.request.MatchRequest;
import sharptally.core.rule.Rule;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Generation;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.formats.job.DraftText;
import sharptally.formats.job.DraftUpdate;
import sharptally.formats.job.JobFile;
import sharptally.formats.job.JobFileReader;

/** Drafted job files say what was drafted, whatever the names are made of. */
class DraftTextTest {
    private static final String LETTERS = "ab_Z9 .:#{}[],&*!|>'\"%@`\\$~-?é霧\t\n\u0085\u2028=";

    @TempDir
    Path folder;

    private static ColumnShape column(String name) {
        return new ColumnShape(
                name, "TEXT", Optional.of(CanonicalType.of(Kind.TEXT)), true, Generation.NONE, Optional.empty());
    }

    private static TableShape table(String name, List<ColumnShape> columns) {
        return new TableShape(TableName.of(name), false, columns, List.of(), List.of(), false);
    }

    private static Draft.Pair pair(String source, String target, List<Draft.Columns> columns, String doubt) {
        return new Draft.Pair(
                table(source, columns.stream().map(Draft.Columns::source).toList()),
                table(target, columns.stream().map(Draft.Columns::target).toList()),
                "the same name",
                doubt.isEmpty() ? List.of() : List.of(doubt),
                columns,
                List.of(column("only " + source)),
                List.of(),
                new Draft.Key(
                        List.of(columns.get(0).source().name()),
                        "unique on both sides",
                        doubt.isEmpty() ? Optional.empty() : Optional.of(doubt)));
    }

    private static Draft.Columns columns(String source, String target, Draft.Translation... translation) {
        return new Draft.Columns(
                column(source),
                column(target),
                translation.length == 0 ? Optional.empty() : Optional.of("likely: " + target),
                translation.length == 0 ? Optional.empty() : Optional.of(translation[0]));
    }

    private static DraftText writer(Map<Draft.Pair, List<String>> expectations) {
        return new DraftText(expectations, name -> "\"" + name.replace("\"", "\"\"") + "\"");
    }

    private JobFile read(String text) throws IOException {
        Path file = folder.resolve("s.yaml");
        Files.writeString(file, text);
        return JobFileReader.read(file, Map.of(), java.time.Clock.systemUTC());
    }

    private static String name(Random random) {
        StringBuilder name = new StringBuilder();
        for (int length = 1 + random.nextInt(9); length > 0; length--) {
            name.append(LETTERS.charAt(random.nextInt(LETTERS.length())));
        }
        // A name of blanks alone can't be told from none.
        return name.toString().isBlank() ? "x" : name.toString();
    }

    @RepeatedTest(300)
    void namesOfAnyLettersComeBackFromTheJobFile() throws IOException {
        long seed = System.nanoTime();
        Random random = new Random(seed);
        List<String> names = new ArrayList<>();
        while (names.size() < 8) {
            String name = name(random);
            if (!names.contains(name)) {
                names.add(name);
            }
        }
        Draft.Pair pair = pair(
                names.get(0),
                names.get(1),
                List.of(
                        columns(names.get(2), names.get(3)),
                        columns(
                                names.get(4),
                                names.get(5),
                                new Draft.Translation(
                                        Optional.of("0.001"),
                                        Map.of(names.get(6), names.get(7)),
                                        Optional.of("case")))),
                "doubt about " + names.get(0));
        List<String> lines = writer(Map.of(pair, List.of("rows >= 1")))
                .jobFile(
                        "tool",
                        "sqlite:" + names.get(6),
                        "h2:" + names.get(7),
                        new Draft(List.of(pair), List.of(), List.of()));
        JobFile jobFile;
        try {
            jobFile = read(String.join("\n", lines) + "\n");
        } catch (RuntimeException e) {
            throw new AssertionError("seed " + seed + "\n" + String.join("\n", lines), e);
        }
        MatchRequest wish = jobFile.matches().get(0).wish();
        assertThat(jobFile.source()).as("seed " + seed).isEqualTo("sqlite:" + names.get(6));
        assertThat(wish.source().name()).as("seed " + seed).isEqualTo(names.get(0));
        assertThat(wish.target().name()).as("seed " + seed).isEqualTo(names.get(1));
        assertThat(wish.key()).containsExactly(names.get(2));
        assertThat(wish.pattern()).isFalse();
        var last = wish.columns().get(wish.columns().size() - 1);
        assertThat(List.of(last.source(), last.target())).isEqualTo(List.of(names.get(4), names.get(5)));
        assertThat(((Rule.SameAs) last.rules().get("same-as").orElseThrow()).values())
                .containsEntry(names.get(6), names.get(7));
        assertThat(wish.source().computed().get(names.get(4))).endsWith("\" / 1000.0");
    }

    @Test
    void updatePutsWhatIsNewBehindWhatIsThere() {
        String mine = """
                job: 1
                source: a:b
                target: a:c
                matches:
                - source: one      # flush with the key
                  columns:
                  - {source: x, target: y}

                # a word at the end
                """;
        Draft.Pair fresh = pair("two", "zwei", List.of(columns("id", "id")), "");
        Draft.Pair more = pair("one", "one", List.of(columns("p", "q"), columns("same", "same")), "");
        String updated = new DraftUpdate(folder.resolve("s.yaml"), mine, writer(Map.of()))
                .updated(
                        new Draft(List.of(fresh), List.of(table("lost", List.of(column("a")))), List.of()),
                        List.of(new DraftUpdate.NewColumns("one", more)));
        assertThat(updated).isEqualTo("""
                job: 1
                source: a:b
                target: a:c
                matches:
                - source: one      # flush with the key
                  columns:
                  - {source: x, target: y}
                  - {source: p, target: q}
                  # CHECK new in the source only, not compared: only one
                - source: two
                  target: zwei
                  key: [id]                                             # unique on both sides
                  # CHECK in the source only, not compared: only two
                  leave-out: ["only two"]
                # CHECK no counterpart was found for these tables; match them by hand, or leave them:
                #   source  lost  (a)

                # a word at the end
                """);
    }
}
