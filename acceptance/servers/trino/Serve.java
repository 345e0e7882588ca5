import io.trino.plugin.memory.MemoryPlugin;
import io.trino.testing.DistributedQueryRunner;
import io.trino.testing.TestingSession;
import java.util.Map;

/** A Trino server of one node with two catalogues in memory; says its port and serves until it is ended. */
public class Serve {
    public static void main(String[] args) throws Exception {
        var server = DistributedQueryRunner.builder(TestingSession.testSessionBuilder().build())
                .setNodeCount(1)
                .build();
        server.installPlugin(new MemoryPlugin());
        server.createCatalog("one", "memory", Map.of());
        server.createCatalog("two", "memory", Map.of());
        System.out.println("ready " + server.getCoordinator().getBaseUrl().getPort());
        Thread.currentThread().join();
    }
}
