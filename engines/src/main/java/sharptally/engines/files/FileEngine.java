package sharptally.engines.files;

import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import sharptally.core.place.Engine;
import sharptally.core.place.Place;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.part.Changes;
import sharptally.core.script.rewrite.Rewrites;
import sharptally.core.script.rewrite.RowChanges;
import sharptally.core.sql.SqlDialect;
import sharptally.engines.files.remote.Fetched;
import sharptally.engines.files.text.FileForm;
import sharptally.engines.files.text.FileKind;
import sharptally.engines.jdbc.embed.Embedded;

/** Files of one kind. */
public record FileEngine(FileKind kind, Embedded embedded) implements Engine, Rewrites {
    @Override
    public String name() {
        return kind.word();
    }

    @Override
    public Place open(PlaceAccess access) {
        return new FilePlace(access, new TextFiles(kind, tables(access), form(access)), embedded);
    }

    @Override
    public SqlDialect dialect() {
        return embedded.dialect();
    }

    @Override
    public List<Path> rewrite(PlaceAccess access, RowChanges changes, Path into) {
        return new FileRewriting(kind, form(access), table(access, changes.table()), changes).write(into);
    }

    @Override
    public List<Path> files(PlaceAccess access, String table) {
        return table(access, table).files();
    }

    private FileTable table(PlaceAccess access, String table) {
        return tables(access).called(table);
    }

    private FileForm form(PlaceAccess access) {
        return FileForm.of(access.properties(), access.label().withoutTable().toString());
    }

    private FileTables tables(PlaceAccess access) {
        return FileTables.of(kind.names(), Fetched.of(access), Piped.of(access));
    }

    @Override
    public Optional<String> publish(PlaceAccess access, Path file) {
        return Fetched.put(access, file);
    }

    @Override
    public Optional<Changes> changes() {
        return Optional.empty();
    }
}
