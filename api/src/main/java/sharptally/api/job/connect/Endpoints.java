package sharptally.api.job.connect;

import java.nio.file.Path;
import java.util.function.Function;
import sharptally.core.place.Address;
import sharptally.core.place.Endpoint;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.union.UnionAddress;
import sharptally.core.place.union.UnionEngine;
import sharptally.engines.Engines;

/** Which engine opens what an address names. */
public final class Endpoints {
    private Endpoints() {}

    /**
     * @param one which place an address names that is none of a union
     * @throws sharptally.core.fault.ToolException when it is not an address
     */
    public static Endpoint of(String address, Function<Address, Endpoint> one) {
        Address whole = Address.parse(address);
        return UnionAddress.isOne(whole)
                ? UnionEngine.endpoint(whole, part -> one.apply(Address.parse(part)))
                : one.apply(whole);
    }

    /** Whether it is the address of a driver, or one among others. */
    public static boolean namesDriver(String address) {
        String driver = "jdbc:";
        return address.startsWith(driver)
                || UnionAddress.isOne(address)
                        && UnionAddress.of(Address.parse(address)).shards().stream()
                                .anyMatch(shard -> shard.address().startsWith(driver));
    }

    /**
     * @param temporary folder for what an engine inside this program can't hold in memory
     * @throws sharptally.core.fault.ToolException when no engine is of that name
     */
    public static Endpoint of(PlaceAccess access, Path temporary) {
        return new Endpoint(Engines.of(access.address()), access.spillingTo(temporary));
    }
}
