package sharptally.formats.run;

import com.fasterxml.jackson.core.JacksonException;
import com.fasterxml.jackson.databind.JsonNode;
import java.io.BufferedReader;
import java.io.BufferedWriter;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.HashSet;
import java.util.Map;
import java.util.Set;
import java.util.function.BiPredicate;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.Hint;
import sharptally.core.fault.ToolException;
import sharptally.core.finding.Finding;
import sharptally.core.finding.FindingFilter;
import sharptally.core.finding.Marked;
import sharptally.core.match.TableMatch;
import sharptally.formats.InputFile;
import sharptally.formats.value.FindingJson;

/**
 * Findings that were chosen one by one, as a file of JSON lines: a head, {@code {"selection": 1, "run": …}}, then for each
 * row the match and its key, or where a match has no key the row itself. Described in {@code docs/scripts.md}.
 *
 * <p>Memory: about 150 bytes per chosen row.
 */
public final class SelectionFile implements Marked {
    private static final int FORMAT = 1;

    private final Map<String, Set<String>> rows = new HashMap<>();
    private final Map<TableMatch, FindingJson> forms = new HashMap<>();

    private SelectionFile() {}

    /**
     * @throws ToolException when the file can't be read, is none of ours, or was made from another run
     */
    public static SelectionFile read(Path file, RunFolder run) {
        SelectionFile selection = new SelectionFile();
        int number = 0;
        try (BufferedReader in = InputFile.reader(file)) {
            for (String line = in.readLine(); line != null; line = in.readLine()) {
                number++;
                if (line.isBlank()) {
                    continue;
                }
                JsonNode node = Json.MAPPER.readTree(line);
                if (number == 1) {
                    checkHead(node, run, file);
                } else {
                    selection.add(node, run, file + ", line " + number);
                }
            }
        } catch (JacksonException e) {
            throw bad("not a line of a selection", file + ", line " + number, e);
        } catch (IOException e) {
            throw bad("can't read the selection", file + " (" + e.getMessage() + ")", e);
        }
        if (number == 0) {
            throw bad("the selection is empty", file.toString(), null);
        }
        return selection;
    }

    private static void checkHead(JsonNode head, RunFolder run, Path file) {
        if (head.path("selection").asInt() != FORMAT) {
            throw bad("not a selection file", file.toString(), null);
        }
        String of = head.path("run").asText();
        if (!of.equals(run.summary().run())) {
            throw new ToolException(
                    ErrorKind.JOB_FILE,
                    "the selection was made from another run",
                    file + " (run " + of + ", not " + run.summary().run() + ")",
                    Hint.SELECT_AGAIN);
        }
    }

    private void add(JsonNode node, RunFolder run, String where) {
        String match = node.path("match").asText();
        if (run.matches().stream().noneMatch(m -> m.name().equals(match))) {
            throw bad("no such match in this run: " + match, where, null);
        }
        JsonNode row = node.has("key") ? node.get("key") : node.get("row");
        if (row == null) {
            throw bad("neither a key nor a row", where, null);
        }
        rows.computeIfAbsent(match, m -> new HashSet<>()).add(row.toString());
    }

    private static ToolException bad(String what, String where, IOException cause) {
        return cause == null
                ? new ToolException(ErrorKind.JOB_FILE, what, where, Hint.SELECT)
                : new ToolException(ErrorKind.JOB_FILE, what, where, Hint.SELECT, cause);
    }

    @Override
    public boolean holds(TableMatch match, Finding finding) {
        Set<String> chosen = rows.get(match.name());
        return chosen != null
                && chosen.contains(forms.computeIfAbsent(match, FindingJson::new)
                        .identity(finding)
                        .toString());
    }

    /**
     * Writes the findings of a run that pass a filter.
     *
     * @return how many
     */
    public static long write(Path file, RunFolder run, FindingFilter filter) {
        return write(file, run, filter::wants);
    }

    /**
     * Writes the findings of a run that are wanted.
     *
     * @param wanted asked for every finding, in the order of the run
     * @return how many
     */
    public static long write(Path file, RunFolder run, BiPredicate<TableMatch, Finding> wanted) {
        long[] count = {0};
        try (BufferedWriter out = Files.newBufferedWriter(file)) {
            out.write(Json.line(Map.of("selection", FORMAT, "run", run.summary().run())) + "\n");
            for (TableMatch match : run.matches()) {
                FindingJson form = new FindingJson(match);
                run.forEach(match, finding -> {
                    if (wanted.test(match, finding)) {
                        count[0]++;
                        line(out, match, match.wholeRow() ? "row" : "key", form.identity(finding));
                    }
                });
            }
        } catch (IOException | java.io.UncheckedIOException e) {
            throw RunWriter.cantWrite(
                    file, e instanceof java.io.UncheckedIOException u ? u.getCause() : (IOException) e);
        }
        return count[0];
    }

    private static void line(BufferedWriter out, TableMatch match, String field, JsonNode identity) {
        try {
            out.write(Json.MAPPER.createObjectNode().put("match", match.name()).set(field, identity) + "\n");
        } catch (IOException e) {
            throw new java.io.UncheckedIOException(e);
        }
    }
}
