package sharptally.engines.lake;

import java.util.Optional;
import java.util.ServiceLoader;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Engine;
import sharptally.core.place.Place;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.part.Changes;

/** Tables that Apache Spark reads. The engine that reads them is a service of the cluster's driver; elsewhere there is none. */
public final class LakeEngine implements Engine {
    /** System property: whether this process is the driver of a cluster. */
    public static final String ON_CLUSTER = "sharptally.cluster";

    public static final String NAME = "spark";

    @Override
    public String name() {
        return NAME;
    }

    @Override
    public Place open(PlaceAccess access) {
        return (Boolean.getBoolean(ON_CLUSTER)
                        ? ServiceLoader.load(Engine.class).findFirst()
                        : Optional.<Engine>empty())
                .orElseThrow(() -> new ToolException(
                        ErrorKind.USAGE,
                        "tables of a lake are read by a cluster alone",
                        access.label().toString(),
                        "see docs/cluster.md"))
                .open(access);
    }

    @Override
    public Optional<Changes> changes() {
        return Optional.empty();
    }
}
