package sharptally.spark.send;

import java.io.Serializable;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Optional;
import java.util.Set;
import org.apache.spark.SparkFiles;
import sharptally.api.job.connect.Endpoints;
import sharptally.core.place.Address;
import sharptally.core.place.Endpoint;
import sharptally.core.place.Place;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.SessionSettings;
import sharptally.formats.connections.ConnectionsFile;

/**
 * A place that executors open for themselves: its address as the user wrote it, which holds no password. What else is needed is
 * looked up where the executor runs: in {@code connections.yaml} among the files sent with the job, in its working folder, or in
 * the user's configuration; and in its environment.
 *
 * @param snapshot whether it is read in one state
 * @param snapshotSeconds how old that may get; 0 for as old as it takes
 */
public record SentPlace(String address, boolean snapshot, long snapshotSeconds) implements Serializable {
    private static final String FILE = "connections.yaml";
    private static final Set<String> FILES =
            Set.of("sqlite", "duckdb", "h2", "csv", "tsv", "jsonl", "xlsx", "parquet", "dump");

    public static SentPlace of(Endpoint endpoint) {
        Address label = endpoint.label();
        // Executors have working folders of their own.
        boolean relative = FILES.contains(label.engine()) && !label.location().startsWith("/");
        Address absolute = relative
                ? new Address(label.engine(), Path.of("").toAbsolutePath() + "/" + label.location(), label.table())
                : label;
        SessionSettings session = endpoint.access().session();
        return new SentPlace(
                absolute.toString(),
                session.snapshot(),
                session.limits().snapshot().map(Duration::toSeconds).orElse(0L));
    }

    /** Opens it over a connection of its own. */
    public Place open() {
        Path sent = Path.of(SparkFiles.getRootDirectory(), FILE);
        Path configuration = Path.of(Optional.ofNullable(System.getenv("XDG_CONFIG_HOME"))
                .orElse(System.getProperty("user.home") + "/.config"));
        ConnectionsFile file = ConnectionsFile.find(
                Files.exists(sent) ? sent : Path.of(FILE),
                configuration.resolve("sharp-tally").resolve(FILE),
                System.getenv(),
                place -> Optional.empty());
        return Endpoints.of(file.resolve(Address.parse(address)), Path.of(System.getProperty("java.io.tmpdir")))
                .opened(this::read)
                .open();
    }

    private PlaceAccess read(PlaceAccess access) {
        PlaceAccess read = access.withSnapshot(snapshot);
        return snapshotSeconds > 0 ? read.withSnapshotsUpTo(Duration.ofSeconds(snapshotSeconds)) : read;
    }
}
