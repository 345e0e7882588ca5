package sharptally.engines.files;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.BasicFileAttributes;
import sharptally.engines.files.text.FileProblem;

/**
 * What changes whenever a file does.
 *
 * @param words its size, when it was written, and which file it is
 */
public record FileState(Path file, String words) {
    public static FileState of(Path file) {
        try {
            BasicFileAttributes attributes = Files.readAttributes(file, BasicFileAttributes.class);
            return new FileState(
                    file, attributes.size() + " " + attributes.lastModifiedTime() + " " + attributes.fileKey());
        } catch (IOException e) {
            throw FileProblem.of(file, e);
        }
    }

    /**
     * @throws sharptally.core.fault.ToolException when the file is not as it was
     */
    public void check() {
        if (!of(file).equals(this)) {
            throw FileProblem.of(file, "the file changed while it was read", "compare again once it is at rest");
        }
    }
}
