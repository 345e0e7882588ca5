package sharptally.api;

import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/**
 * Changes that were made.
 *
 * @param rows how many rows were changed
 * @param lasting whether they were committed
 * @param undo the script that takes them back, kept beside the result; empty where nothing was changed for good
 * @param warnings what a person should know
 */
public record Applied(long rows, boolean lasting, Optional<Path> undo, List<String> warnings) {
    public Applied {
        warnings = List.copyOf(warnings);
    }
}
