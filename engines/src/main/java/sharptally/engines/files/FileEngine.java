package sharptally.engines.files;

import java.util.Optional;
import sharptally.core.place.Engine;
import sharptally.core.place.Place;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.part.Changes;
import sharptally.engines.files.text.FileForm;
import sharptally.engines.files.text.FileKind;

/** Files of one kind. */
public record FileEngine(FileKind kind) implements Engine {
    @Override
    public String name() {
        return kind.word();
    }

    @Override
    public Place open(PlaceAccess access) {
        FileForm form =
                FileForm.of(access.properties(), access.label().withoutTable().toString());
        FileTables tables = FileTables.of(kind, access.address(), Piped.of(access));
        return new FilePlace(access.label(), new TextFiles(tables, form));
    }

    @Override
    public Optional<Changes> changes() {
        return Optional.empty();
    }
}
