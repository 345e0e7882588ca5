package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What a cluster finds is what the local program finds, row by row. */
class ClusterTest {
    private static final ObjectMapper JSON = new ObjectMapper();

    @TempDir
    Path folder;

    private static long seed() {
        long seed = Long.getLong("sharptally.seed", System.nanoTime());
        System.out.println("seed " + seed);
        return seed;
    }

    /** All findings of the latest run by table, but for where in a file a row stands, which a cluster does not know. */
    private static Map<String, List<String>> found(Tool tool, List<String> tables) throws Exception {
        Map<String, List<String>> found = new LinkedHashMap<>();
        Path run = tool.latestRun();
        JsonNode told = JSON.readTree(run.resolve("run.json").toFile());
        for (JsonNode match : told.get("matches")) {
            List<String> lines = new ArrayList<>();
            lines.add(match.get("source-rows") + " " + match.get("target-rows") + " " + match.get("same") + " "
                    + match.get("changed") + " " + match.get("missing") + " " + match.get("extra") + " "
                    + match.get("repeated") + " " + match.get("state") + " " + match.get("columns"));
            for (String line :
                    Files.readAllLines(run.resolve(match.get("findings").asText()))) {
                ObjectNode finding = (ObjectNode) JSON.readTree(line);
                finding.remove("at");
                lines.add(finding.toString());
            }
            found.put(match.get("name").asText(), lines);
        }
        assertThat(found.keySet()).containsExactlyInAnyOrderElementsOf(tables);
        return found;
    }

    private static void same(String story, Map<String, List<String>> found, Map<String, List<String>> expected) {
        expected.forEach((table, lines) ->
                assertThat(found.get(table)).as(story + " table " + table).isEqualTo(lines));
    }

    @Test
    void randomTablesAreComparedAsHere() throws Exception {
        long seed = seed();
        LakeTables tables = new LakeTables(folder, new Random(seed));
        int count = Boolean.getBoolean("sharptally.all") ? 40 : 16;
        for (int i = 0; i < count; i++) {
            tables.add("t" + i, 40 + 60 * (i % 7));
        }
        Tool tool = new Tool(folder);
        Tool.Result here = tool.run("compare", "--job", tables.job("parquet").toString(), "--method", "stream");
        assertThat(here.code()).as(here.all()).isEqualTo(1);
        Map<String, List<String>> expected = found(tool, tables.names());
        try (Cluster cluster = Cluster.local(folder)) {
            Tool.Result there = cluster.run(
                    tool, List.of("compare", "--job", tables.job("spark").toString(), "--workers", "2"));
            assertThat(there.code()).as("seed " + seed + there.all()).isEqualTo(1);
            assertThat(there.err()).as("seed " + seed).isEmpty();
            same("seed " + seed, found(tool, tables.names()), expected);
        }
    }
}
