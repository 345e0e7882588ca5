package sharptally.core.place.union;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import sharptally.core.place.Address;
import sharptally.core.place.Endpoint;
import sharptally.core.place.Engine;
import sharptally.core.place.Place;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.part.Changes;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;

/**
 * Opens places whose tables together are one.
 *
 * @param union which they are
 * @param parts in its order
 */
public record UnionEngine(UnionAddress union, List<Endpoint> parts) implements Engine {
    public UnionEngine {
        parts = List.copyOf(parts);
    }

    /**
     * @param one finds the place of an address
     */
    public static Endpoint endpoint(Address address, Function<String, Endpoint> one) {
        UnionAddress union = UnionAddress.of(address);
        List<Endpoint> parts =
                union.shards().stream().map(shard -> one.apply(shard.address())).toList();
        int most = parts.stream()
                .mapToInt(part -> part.access().session().maxConnections())
                .min()
                .orElseThrow();
        return new Endpoint(
                new UnionEngine(union, parts), PlaceAccess.of(address).withMaxConnections(most));
    }

    @Override
    public String name() {
        return UnionAddress.ENGINE;
    }

    @Override
    public Place open(PlaceAccess access) {
        List<Place> opened = new ArrayList<>();
        try {
            for (Endpoint part : parts) {
                opened.add(part.opened(own -> own.readAs(access)).open());
            }
            return new UnionPlace(access.label(), union, opened);
        } catch (RuntimeException e) {
            opened.forEach(Place::close);
            throw e;
        }
    }

    /**
     * A table as one of the places has it.
     *
     * @param part its place among them
     * @param opened the union, which has described the table
     */
    public static TableShape in(int part, Place opened, TableShape table) {
        return ((UnionPlace) opened).in(part, table);
    }

    /** A column of the union as one of the places has it. */
    public static ColumnShape in(TableShape part, ColumnShape column) {
        return UnionTables.in(part, column);
    }

    /** None: whoever changes rows says in which of the places. */
    @Override
    public Optional<Changes> changes() {
        return Optional.empty();
    }
}
