package sharptally.engines.files;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Optional;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.PlaceAccess;

/** What comes through a pipe, put into a temporary file that is its owner's alone and ends with the program: it is read more than once. */
final class Piped {
    private static Optional<Path> put = Optional.empty();

    private Piped() {}

    /** Empty where the address means no pipe. */
    static synchronized Optional<Path> of(PlaceAccess access) {
        if (!access.address().location().equals(FileTables.PIPE)) {
            return Optional.empty();
        }
        if (put.isEmpty()) {
            put = Optional.of(taken(access, System.in));
        }
        return put;
    }

    private static Path taken(PlaceAccess access, InputStream pipe) {
        Path folder = access.session().temporary().orElse(Path.of(System.getProperty("java.io.tmpdir")));
        try {
            Path file = Files.createTempFile(folder, "sharp-tally-", ".rows");
            file.toFile().deleteOnExit();
            try (OutputStream out = Files.newOutputStream(file)) {
                pipe.transferTo(out);
            }
            return file;
        } catch (IOException e) {
            throw new ToolException(
                    ErrorKind.INCOMPLETE,
                    "can't keep what comes through the pipe",
                    folder + ": " + e.getMessage(),
                    "make room there, or choose another temporary folder",
                    e);
        }
    }
}
