package sharptally.api;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Comparator;
import java.util.stream.Stream;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;

/** Folders that are kept for the time being. */
final class Folders {
    private Folders() {}

    static Path temporary(Path within) {
        try {
            return Files.createTempDirectory(within, "sharp-tally-run-");
        } catch (IOException e) {
            throw new ToolException(
                    ErrorKind.START,
                    "can't make a temporary folder",
                    within + ": " + e.getMessage(),
                    "make room there, or choose another one",
                    e);
        }
    }

    /** With all that is in it. */
    static void remove(Path folder) {
        try (Stream<Path> files = Files.walk(folder)) {
            for (Path file : files.sorted(Comparator.reverseOrder()).toList()) {
                Files.deleteIfExists(file);
            }
        } catch (IOException e) {
            throw new ToolException(
                    ErrorKind.INCOMPLETE,
                    "can't remove a temporary folder",
                    folder + ": " + e.getMessage(),
                    "remove it by hand",
                    e);
        }
    }
}
