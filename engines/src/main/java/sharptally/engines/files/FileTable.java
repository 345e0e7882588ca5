package sharptally.engines.files;

import java.nio.file.Path;
import java.util.List;

/**
 * A table that is one file, or several files whose rows are its rows.
 *
 * @param files in the order in which they are read; at least one
 */
record FileTable(String name, List<Path> files) {
    FileTable {
        files = List.copyOf(files);
    }
}
