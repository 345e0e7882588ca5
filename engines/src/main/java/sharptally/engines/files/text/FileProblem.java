package sharptally.engines.files.text;

import java.io.IOException;
import java.nio.file.Path;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;

/** What can be wrong with a file, each with where and what to do. */
public final class FileProblem {
    private FileProblem() {}

    /** Of a line or record of a file. */
    public static ToolException at(Path file, long line, String what, String mend) {
        return new ToolException(ErrorKind.READ, what, Origin.of(file) + ":" + line, mend);
    }

    public static ToolException of(Path file, String what, String mend) {
        return new ToolException(ErrorKind.READ, what, Origin.of(file), mend);
    }

    /** Of what the system or a library says while a file is read. */
    public static ToolException of(Path file, IOException e) {
        String said = e.getMessage() == null ? e.getClass().getSimpleName() : e.getMessage();
        return new ToolException(
                ErrorKind.READ, "can't read the file", Origin.of(file) + ": " + said, "check the file", e);
    }
}
