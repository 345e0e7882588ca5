package sharptally.acceptance;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.IOException;
import java.math.BigDecimal;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDateTime;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.BiPredicate;

/** What a run found of a table of the soak, compared with what it should have found. */
final class SoakFindings {
    private SoakFindings() {}

    /**
     * What is wrong with what a run says of a table; empty when nothing is, or when its method can't be used.
     *
     * @param summary what {@code run.json} holds
     * @param wanted which rows were compared
     */
    static String problem(SoakTable table, JsonNode summary, Path run, BiPredicate<SoakTable, Object[]> wanted)
            throws IOException {
        String name = (table.schema.isEmpty() ? "" : table.schema + ".") + table.name;
        return problem(table, name, summary, run, table.expected(wanted));
    }

    /** The same of a match of that name. */
    static String problem(SoakTable table, String name, JsonNode summary, Path run, Map<String, Set<String>> expected)
            throws IOException {
        JsonNode match = null;
        for (JsonNode each : summary.get("matches")) {
            match = each.get("name").asText().equals(name) ? each : match;
        }
        if (match == null) {
            return "table " + name + " is not among the matches";
        }
        if (!match.get("state").asText().equals("complete")) {
            String failure = match.path("failure").asText();
            return failure.contains("can't compare by method") ? "" : "not finished: " + failure;
        }
        long lost = match.get("missing-columns").size() - (table.onlyInSource.isEmpty() ? 0 : 1);
        long more = match.get("extra-columns").size() - (table.onlyInTarget.isEmpty() ? 0 : 1);
        if (lost != 0 || more != 0) {
            return name + ": missing columns " + match.get("missing-columns") + ", extra " + match.get("extra-columns");
        }
        Map<String, Set<String>> found =
                found(table, run.resolve(match.get("findings").asText()));
        return found.equals(expected)
                ? ""
                : name + ": expected " + expected + "\n  found " + found + " " + match.get("method") + " "
                        + match.get("notes");
    }

    /** The findings of a file, in the form of {@link SoakTable#expected}. */
    static Map<String, Set<String>> found(SoakTable table, Path file) throws IOException {
        List<String> key = table.key.stream().map(table.columns::get).toList();
        FoundRows found = FoundRows.of(
                Files.exists(file) ? Files.readString(file) : "",
                key,
                (i, value) -> text(value, table.types.get(table.key.get(i))));
        if (!key.isEmpty()) {
            return new TreeMap<>(found.byKey());
        }
        return found.missing() + found.extra() == 0
                ? Map.of()
                : Map.of("missing rows " + found.missing() + ", extra rows " + found.extra(), Set.of());
    }

    private static String text(JsonNode value, SoakTable.Type type) {
        String text = FoundRows.bare(value);
        return switch (type) {
            case DECIMAL -> SoakTable.plain(new BigDecimal(text));
            case BYTES -> SoakTable.plain(Base64.getDecoder().decode(text));
            case TIMESTAMP, INSTANT ->
                SoakTable.plain(LocalDateTime.parse(text.replace(' ', 'T').replaceAll("(Z|[+]00)$", "")));
            default -> text;
        };
    }
}
