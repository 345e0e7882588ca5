package sharptally.acceptance;

import java.net.URI;
import java.nio.file.Path;
import java.util.Map;
import java.util.Properties;
import org.gaul.s3proxy.AuthenticationType;
import org.gaul.s3proxy.S3Proxy;
import org.jclouds.ContextBuilder;
import org.jclouds.blobstore.BlobStore;
import org.jclouds.blobstore.BlobStoreContext;

/** A server of the S3 protocol on this machine, over a folder. */
final class ObjectStore implements AutoCloseable {
    static final String BUCKET = "archive";
    private static final String KEY_ID = "tide";
    private static final String SECRET = "ebb-and-flow";

    private final BlobStore store;
    private final S3Proxy proxy;

    ObjectStore(Path folder) throws Exception {
        Properties where = new Properties();
        where.setProperty("jclouds.filesystem.basedir", folder.toString());
        store = ContextBuilder.newBuilder("filesystem")
                .credentials("id", "secret")
                .overrides(where)
                .build(BlobStoreContext.class)
                .getBlobStore();
        store.createContainerInLocation(null, BUCKET);
        proxy = S3Proxy.builder()
                .blobStore(store)
                .endpoint(URI.create("http://127.0.0.1:0"))
                .awsAuthentication(AuthenticationType.AWS_V2_OR_V4, KEY_ID, SECRET)
                .build();
        proxy.start();
    }

    int port() {
        return proxy.getPort();
    }

    void put(String key, byte[] bytes) {
        store.putBlob(
                BUCKET,
                store.blobBuilder(key)
                        .payload(bytes)
                        .contentLength(bytes.length)
                        .build());
    }

    /** The options by which an address reaches the server. */
    static String options(int port) {
        return "endpoint=http://127.0.0.1:" + port + "&path-style=yes";
    }

    static Map<String, String> credentials() {
        return Map.of("AWS_ACCESS_KEY_ID", KEY_ID, "AWS_SECRET_ACCESS_KEY", SECRET);
    }

    @Override
    public void close() {
        try {
            proxy.stop();
        } catch (Exception e) {
            throw new IllegalStateException(e);
        }
        store.getContext().close();
    }
}
