package sharptally.engines.files.dump;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Optional;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Engine;
import sharptally.core.place.Place;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.part.Changes;
import sharptally.engines.files.FilePlace;
import sharptally.engines.files.remote.Fetched;
import sharptally.engines.files.text.FileProblem;
import sharptally.engines.jdbc.embed.Embedded;

/** Backups that are written as SQL. */
public record DumpEngine(Embedded embedded) implements Engine {
    @Override
    public String name() {
        return "dump";
    }

    @Override
    public Place open(PlaceAccess access) {
        Path file = Path.of(Fetched.of(access).location());
        if (!Files.exists(file)) {
            throw new ToolException(
                    ErrorKind.CONNECT,
                    "no such file",
                    access.label() + " (" + file.toAbsolutePath() + ")",
                    "check the path");
        }
        if (!Files.isRegularFile(file)) {
            throw FileProblem.of(file, "not a file", "a dump in a folder is written out by pg_restore -f backup.sql");
        }
        return new FilePlace(access, new DumpFiles(Dump.of(file)), embedded);
    }

    @Override
    public Optional<Changes> changes() {
        return Optional.empty();
    }
}
