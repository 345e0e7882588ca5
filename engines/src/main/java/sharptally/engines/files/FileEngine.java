package sharptally.engines.files;

import java.util.Optional;
import sharptally.core.place.Engine;
import sharptally.core.place.Place;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.part.Changes;
import sharptally.engines.files.remote.Fetched;
import sharptally.engines.files.text.FileForm;
import sharptally.engines.files.text.FileKind;
import sharptally.engines.jdbc.embed.Embedded;

/** Files of one kind. */
public record FileEngine(FileKind kind, Embedded embedded) implements Engine {
    @Override
    public String name() {
        return kind.word();
    }

    @Override
    public Place open(PlaceAccess access) {
        FileForm form =
                FileForm.of(access.properties(), access.label().withoutTable().toString());
        FileTables tables = FileTables.of(kind.names(), Fetched.of(access), Piped.of(access));
        return new FilePlace(access, new TextFiles(kind, tables, form), embedded);
    }

    @Override
    public Optional<Changes> changes() {
        return Optional.empty();
    }
}
