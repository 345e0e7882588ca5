package sharptally.engines.files;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import sharptally.core.place.Address;
import sharptally.core.place.Engine;
import sharptally.core.place.Place;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.part.Changes;
import sharptally.core.shape.TableName;
import sharptally.engines.files.remote.Fetched;
import sharptally.engines.files.text.FileNames;
import sharptally.engines.jdbc.embed.Embedded;
import sharptally.engines.jdbc.embed.Relation;
import sharptally.engines.jdbc.embed.Relations;

/** Parquet files, which have types of their own. They are read, and joined, by a database within this program. */
public record ParquetEngine(Embedded embedded) implements Engine {
    private static final FileNames NAMES = new FileNames("parquet", List.of(".parquet"), false);

    @Override
    public String name() {
        return NAMES.word();
    }

    @Override
    public Place open(PlaceAccess access) {
        FileTables tables = FileTables.of(NAMES, Fetched.of(access), Piped.of(access));
        List<FileState> states = tables.byName().values().stream()
                .flatMap(table -> table.files().stream())
                .map(FileState::of)
                .toList();
        return embedded.open(
                access,
                new Relations(
                        NAMES.word(),
                        "Parquet files",
                        tables.one() ? relations(tables).keySet().stream().findFirst() : Optional.empty(),
                        relations(tables),
                        access.session().beside().flatMap(ParquetEngine::beside).orElse(Map.of()),
                        Optional.empty(),
                        () -> states.forEach(FileState::check)));
    }

    private static Optional<Map<TableName, Relation>> beside(Address other) {
        return other.engine().equals(NAMES.word())
                        && !other.location().equals(FileTables.PIPE)
                        && !Fetched.isMeant(other)
                ? Optional.of(relations(FileTables.of(NAMES, other, Optional.empty())))
                : Optional.empty();
    }

    private static Map<TableName, Relation> relations(FileTables tables) {
        Map<TableName, Relation> relations = new LinkedHashMap<>();
        tables.byName()
                .forEach((name, table) -> relations.put(TableName.of(name), new Relation.Parquet(table.files())));
        return relations;
    }

    @Override
    public Optional<Changes> changes() {
        return Optional.empty();
    }
}
