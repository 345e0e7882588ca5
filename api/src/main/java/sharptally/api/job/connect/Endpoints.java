package sharptally.api.job.connect;

import java.nio.file.Path;
import sharptally.core.place.Endpoint;
import sharptally.core.place.PlaceAccess;
import sharptally.engines.Engines;

/** Which engine opens what an address names. */
public final class Endpoints {
    private Endpoints() {}

    /**
     * @param temporary folder for what an engine inside this program can't hold in memory
     * @throws sharptally.core.fault.ToolException when no engine is of that name
     */
    public static Endpoint of(PlaceAccess access, Path temporary) {
        return new Endpoint(Engines.of(access.address()), access.spillingTo(temporary));
    }
}
