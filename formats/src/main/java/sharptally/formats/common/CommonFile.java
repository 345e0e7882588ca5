package sharptally.formats.common;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import sharptally.core.common.CommonRows;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.formats.InputFile;
import sharptally.formats.run.Json;
import sharptally.formats.run.MatchSummary;
import sharptally.formats.run.RunFolder;

/**
 * What rows of a run have in common, kept in its folder once it was looked for: {@code common.json}.
 *
 * @param digests of the findings that were looked at, by their match
 */
public record CommonFile(Map<String, String> digests, List<CommonRows> common) {
    private static final String NAME = "common.json";

    /**
     * Keeps it, in place of what was kept before.
     *
     * @throws ToolException when it can't be written
     */
    public static void write(RunFolder run, List<CommonRows> common) {
        Map<String, String> digests = run.summary().matches().stream()
                .filter(m -> common.stream().anyMatch(c -> c.match().equals(m.name())))
                .collect(Collectors.toMap(MatchSummary::name, MatchSummary::digest));
        Path file = run.folder().resolve(NAME);
        Path draft = run.folder().resolve(NAME + ".draft");
        try {
            Files.write(draft, Json.MAPPER.writeValueAsBytes(new CommonFile(digests, common)));
            Files.move(draft, file, StandardCopyOption.REPLACE_EXISTING);
        } catch (IOException e) {
            throw new ToolException(
                    ErrorKind.INCOMPLETE,
                    "can't be kept in the run's folder",
                    file + " (" + e.getMessage() + ")",
                    "",
                    e);
        }
    }

    /** What was kept, as far as it is of the findings that the run has now; nothing where it is damaged. */
    public static List<CommonRows> read(RunFolder run) {
        Path file = run.folder().resolve(NAME);
        if (!Files.isRegularFile(file)) {
            return List.of();
        }
        try {
            InputFile.check(file);
            CommonFile kept = Json.MAPPER.readValue(Files.readAllBytes(file), CommonFile.class);
            return kept.common.stream()
                    .filter(c -> run.summary().matches().stream()
                            .anyMatch(m ->
                                    m.name().equals(c.match()) && m.digest().equals(kept.digests.get(c.match()))))
                    .toList();
        } catch (IOException | RuntimeException e) {
            return List.of();
        }
    }
}
