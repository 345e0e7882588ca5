package sharptally.engines.files;

import java.util.List;
import java.util.Optional;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Address;
import sharptally.core.place.Engine;
import sharptally.core.place.Place;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.part.Changes;
import sharptally.engines.files.text.FileKind;

/**
 * Files in an object store or behind https whose kind is told by their names alone: {@code s3://bucket/a.csv.gz}.
 *
 * @param name the scheme of such addresses
 * @param kinds the engines that read files
 */
public record RemoteEngine(String name, List<Engine> kinds) implements Engine {
    public RemoteEngine {
        kinds = List.copyOf(kinds);
    }

    @Override
    public Place open(PlaceAccess access) {
        Address address = access.address();
        String location = address.location();
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
        Engine kind = kinds.stream()
                .filter(engine -> engine.name().equals(word))
                .findFirst()
                .orElseThrow();
        return kind.open(access.at(new Address(word, name + ":" + location, address.table())));
    }

    @Override
    public Optional<Changes> changes() {
        return Optional.empty();
    }
}
