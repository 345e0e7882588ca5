package sharptally.engines.files;

import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Address;
import sharptally.core.place.Engine;
import sharptally.core.place.Place;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.part.Changes;
import sharptally.core.script.rewrite.Rewrites;
import sharptally.core.script.rewrite.RowChanges;
import sharptally.core.sql.SqlDialect;
import sharptally.engines.files.text.FileKind;

/**
 * Files in an object store or behind https whose kind is told by their names alone: {@code s3://bucket/a.csv.gz}.
 *
 * @param name the scheme of such addresses
 * @param kinds the engines that read files
 */
public record RemoteEngine(String name, List<Engine> kinds) implements Engine, Rewrites {
    public RemoteEngine {
        kinds = List.copyOf(kinds);
    }

    @Override
    public Place open(PlaceAccess access) {
        return kind(access).open(within(access));
    }

    private Engine kind(PlaceAccess access) {
        String location = access.address().location();
        String last = location.substring(location.lastIndexOf('/') + 1);
        String word = List.of(FileKind.values()).stream()
                .filter(kind -> kind.names().table(last).isPresent())
                .findFirst()
                .map(FileKind::word)
                .or(() -> last.endsWith(".parquet") ? Optional.of("parquet") : Optional.empty())
                .orElseThrow(() -> new ToolException(
                        ErrorKind.USAGE,
                        "the name does not tell what kind of file this is",
                        access.label().withoutTable().toString(),
                        "write it before the address, such as csv:" + name + ":" + location));
        return kinds.stream()
                .filter(engine -> engine.name().equals(word))
                .findFirst()
                .orElseThrow();
    }

    private PlaceAccess within(PlaceAccess access) {
        Address address = access.address();
        return access.at(new Address(kind(access).name(), name + ":" + address.location(), address.table()));
    }

    private Rewrites rewrites(PlaceAccess access) {
        return (Rewrites) kind(access);
    }

    @Override
    public SqlDialect dialect() {
        return ((Rewrites) kinds.get(0)).dialect();
    }

    @Override
    public List<Path> rewrite(PlaceAccess access, RowChanges changes, Path into) {
        return rewrites(access).rewrite(within(access), changes, into);
    }

    @Override
    public List<Path> files(PlaceAccess access, String table) {
        return rewrites(access).files(within(access), table);
    }

    @Override
    public Optional<String> publish(PlaceAccess access, Path file) {
        return rewrites(access).publish(within(access), file);
    }

    @Override
    public Optional<Changes> changes() {
        return Optional.empty();
    }
}
