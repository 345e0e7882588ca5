package sharptally.acceptance;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.IOException;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.BiFunction;
import java.util.stream.Collectors;
import java.util.stream.IntStream;

/**
 * Findings as an oracle writes them: kind and key to the columns that differ; a finding that is there twice stands as such.
 *
 * @param missing how many rows the target lacks, and {@code extra} how many it has beyond the source: all that is told of
 *     rows without a key
 */
record FoundRows(Map<String, Set<String>> byKey, long missing, long extra) {
    private static final ObjectMapper JSON = new ObjectMapper();

    /**
     * @param lines findings, one JSON object a line
     * @param key names of the key's columns, in its order
     * @param text a key's value as the oracle writes it, by its place in the key
     */
    static FoundRows of(String lines, List<String> key, BiFunction<Integer, JsonNode, String> text) throws IOException {
        Map<String, Set<String>> found = new LinkedHashMap<>();
        long missing = 0;
        long extra = 0;
        // Not lines(): a JSON string may hold other line ends as they are.
        for (String line : lines.split("\n")) {
            if (line.isEmpty()) {
                continue;
            }
            JsonNode finding = JSON.readTree(line);
            String kind = finding.get("kind").asText();
            missing += kind.equals("missing") ? finding.path("times").asLong(1) : 0;
            extra += kind.equals("extra") ? finding.path("times").asLong(1) : 0;
            String name = kind + " "
                    + IntStream.range(0, key.size())
                            .mapToObj(i -> text.apply(i, finding.path("key").path(key.get(i))))
                            .collect(Collectors.joining(","));
            Set<String> differs = new TreeSet<>();
            finding.path("differs").properties().forEach(f -> differs.add(f.getKey()));
            if (found.put(name, differs) != null && !key.isEmpty()) {
                found.put("twice " + name, differs);
            }
        }
        return new FoundRows(found, missing, extra);
    }

    /** A value as it stands in a finding, whatever it is wrapped in. */
    static String bare(JsonNode value) {
        return value.isObject() ? value.elements().next().asText() : value.asText();
    }
}
