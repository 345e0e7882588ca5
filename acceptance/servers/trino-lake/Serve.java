import io.trino.plugin.iceberg.IcebergPlugin;
import io.trino.testing.DistributedQueryRunner;
import io.trino.testing.TestingSession;
import java.nio.file.Path;
import java.util.Map;

/** A Trino server of one node with a catalogue of Iceberg tables in a folder; says its port and serves until it is ended. */
public class Serve {
    public static void main(String[] args) throws Exception {
        var server = DistributedQueryRunner.builder(TestingSession.testSessionBuilder().build())
                .setNodeCount(1)
                .build();
        server.installPlugin(new IcebergPlugin());
        server.createCatalog(
                "lake",
                "iceberg",
                Map.of(
                        "iceberg.catalog.type",
                        "TESTING_FILE_METASTORE",
                        "hive.metastore.catalog.dir",
                        Path.of(args[0]).toUri().toString()));
        System.out.println("ready " + server.getCoordinator().getBaseUrl().getPort());
        Thread.currentThread().join();
    }
}
