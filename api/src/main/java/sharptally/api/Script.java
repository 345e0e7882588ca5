package sharptally.api;

import java.nio.file.Path;
import java.util.List;

/**
 * A script that was written.
 *
 * @param undo the script that takes it back
 * @param changes how many rows it changes
 * @param warnings what a person should know before running it
 * @param howToRun a command of the database's own client
 */
public record Script(Path script, Path undo, long changes, List<String> warnings, String howToRun) {
    public Script {
        warnings = List.copyOf(warnings);
    }
}
