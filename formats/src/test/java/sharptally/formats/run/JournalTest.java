package sharptally.formats.run;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;

/** A journal that was cut at any byte goes on from its last whole line; one that is damaged otherwise is refused. */
class JournalTest {
    @TempDir
    Path folder;

    private byte[] written(int lines, Random random) throws Exception {
        try (Journal journal = Journal.begin(folder, Map.of("source", "küste"))) {
            for (int i = 0; i < lines; i++) {
                String text = "w" + "ö\"\\\n{".repeat(random.nextInt(4));
                journal.append(Json.MAPPER
                        .createObjectNode()
                        .put("match", i % 2 == 0 ? "reading" : "station")
                        .put("range", i)
                        .put("text", text));
            }
        }
        return Files.readAllBytes(folder.resolve("journal.jsonl"));
    }

    @Test
    void aCutLineIsDroppedAndTheRestGoesOn() throws Exception {
        long seed = System.nanoTime();
        System.out.println("journal, seed " + seed);
        byte[] whole = written(12, new Random(seed));
        Path file = folder.resolve("journal.jsonl");
        int head = new String(whole, StandardCharsets.ISO_8859_1).indexOf('\n') + 1;
        for (int length = 0; length <= whole.length; length++) {
            byte[] cut = Arrays.copyOf(whole, length);
            Files.write(file, cut);
            if (length < head) {
                refused("no head");
                continue;
            }
            long lines = new String(cut, StandardCharsets.UTF_8)
                            .chars()
                            .filter(c -> c == '\n')
                            .count()
                    - 1;
            try (Journal journal = Journal.goOn(folder)) {
                assertThat(journal.wish(JsonNode.class).path("source").asText()).isEqualTo("küste");
                assertThat(journal.of("reading")).hasSize((int) (lines + 1) / 2);
                assertThat(journal.of("station")).hasSize((int) lines / 2);
                journal.append(Json.MAPPER.createObjectNode().put("match", "later"));
            }
            try (Journal journal = Journal.goOn(folder)) {
                assertThat(journal.of("later"))
                        .as("seed %d, cut at %d", seed, length)
                        .hasSize(1);
                assertThat(journal.of("reading")).hasSize((int) (lines + 1) / 2);
            }
        }
    }

    @Test
    void damagedLinesAreRefused() throws Exception {
        String whole = new String(written(3, new Random(1)), StandardCharsets.UTF_8);
        Path file = folder.resolve("journal.jsonl");
        Files.writeString(file, whole.replaceFirst("\"range\":1", "\"range\":"));
        refused("line 3 is damaged");
        Files.writeString(file, whole.replaceFirst("\"journal\":1", "\"journal\":2"));
        refused("no head of format 1");
        Files.writeString(file, whole.replaceFirst("\\{", "["));
        refused("line 1 is damaged");
        Files.delete(file);
        refused("it can't be read");
    }

    private void refused(String why) {
        assertThatThrownBy(() -> Journal.goOn(folder))
                .isInstanceOfSatisfying(
                        ToolException.class, e -> assertThat(e.kind()).isEqualTo(ErrorKind.JOB_FILE))
                .hasMessageContaining("can't be resumed")
                .hasMessageContaining(why);
    }
}
