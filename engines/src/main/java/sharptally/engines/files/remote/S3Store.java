package sharptally.engines.files.remote;

import java.io.IOException;
import java.io.InputStream;
import java.net.URI;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.match.text.Glob;
import sharptally.core.place.PlaceAccess;
import software.amazon.awssdk.auth.credentials.DefaultCredentialsProvider;
import software.amazon.awssdk.auth.credentials.ProfileCredentialsProvider;
import software.amazon.awssdk.core.checksums.RequestChecksumCalculation;
import software.amazon.awssdk.core.checksums.ResponseChecksumValidation;
import software.amazon.awssdk.core.exception.SdkClientException;
import software.amazon.awssdk.core.exception.SdkException;
import software.amazon.awssdk.core.exception.SdkServiceException;
import software.amazon.awssdk.core.sync.RequestBody;
import software.amazon.awssdk.http.urlconnection.UrlConnectionHttpClient;
import software.amazon.awssdk.regions.Region;
import software.amazon.awssdk.services.s3.S3Client;
import software.amazon.awssdk.services.s3.S3ClientBuilder;
import software.amazon.awssdk.services.s3.model.HeadObjectResponse;
import software.amazon.awssdk.services.s3.model.NoSuchKeyException;
import software.amazon.awssdk.services.s3.model.S3Object;

/** Objects of a store that speaks the S3 protocol. Credentials are found by the SDK's own chain, never in the address. */
final class S3Store implements Store {
    /** What an address may say of the store. */
    private static final String ENDPOINT = "endpoint";

    private static final int FORBIDDEN = 403;
    private static final int NOT_FOUND = 404;
    private static final int PRECONDITION_FAILED = 412;
    private static final int RANGE_NOT_SATISFIABLE = 416;

    private final String address;
    private final String bucket;
    private final String key;
    private final S3Client client;

    S3Store(PlaceAccess access) {
        this.address = access.label().withoutTable().toString();
        String rest = access.address().location().substring("s3://".length());
        int slash = rest.indexOf('/');
        if (slash <= 0 || slash == rest.length() - 1) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "the address names no object",
                    address,
                    "write s3://BUCKET/KEY, s3://BUCKET/PREFIX/ or s3://BUCKET/PREFIX/*.csv");
        }
        this.bucket = rest.substring(0, slash);
        this.key = rest.substring(slash + 1);
        try {
            this.client = client(access.properties(), address);
        } catch (SdkException e) {
            throw failed(e);
        }
    }

    private static S3Client client(Map<String, String> said, String address) {
        S3ClientBuilder builder = S3Client.builder()
                .httpClientBuilder(UrlConnectionHttpClient.builder())
                .credentialsProvider(Optional.ofNullable(said.get("profile"))
                        .<software.amazon.awssdk.auth.credentials.AwsCredentialsProvider>map(
                                ProfileCredentialsProvider::create)
                        .orElseGet(() -> DefaultCredentialsProvider.builder().build()))
                .forcePathStyle("yes".equals(said.get("path-style")));
        Optional<URI> endpoint =
                Optional.ofNullable(said.get(ENDPOINT)).map(e -> Fetched.uri(e, address + ", " + ENDPOINT));
        // Not every store of this protocol knows the first one's newer headers.
        endpoint.ifPresent(e -> builder.endpointOverride(e)
                .responseChecksumValidation(ResponseChecksumValidation.WHEN_REQUIRED)
                .requestChecksumCalculation(RequestChecksumCalculation.WHEN_REQUIRED));
        Optional<String> region = Optional.ofNullable(said.get("region"));
        // Other stores than the first one have no regions; a name is needed all the same.
        region.or(() -> endpoint.map(e -> "us-east-1")).ifPresent(name -> builder.region(Region.of(name)));
        return builder.build();
    }

    private ToolException failed(SdkException e) {
        if (e instanceof SdkServiceException refused) {
            if (refused.statusCode() == NOT_FOUND) {
                return Fetched.refused("no such object, or no such bucket", address, "check bucket and key");
            }
            if (refused.statusCode() == FORBIDDEN) {
                return Fetched.refused(
                        "the store refuses our credentials",
                        address,
                        "see which ones the environment, the profile or the machine's role gives, and what they may read");
            }
            return Fetched.refused(
                    "the store answers " + refused.statusCode(), address, "check endpoint, region, bucket and key");
        }
        String said = String.valueOf(e.getMessage()).lines().findFirst().orElse("");
        return Fetched.refused(
                said.contains("credentials")
                        ? "no credentials for the store were found"
                        : "the store can't be reached (" + said + ")",
                address,
                said.contains("credentials")
                        ? "set AWS_ACCESS_KEY_ID and AWS_SECRET_ACCESS_KEY, or name a profile: ?profile=NAME"
                        : "check endpoint and region: ?endpoint=https://…&region=…");
    }

    @Override
    public List<Item> items() {
        try {
            String last = key.substring(key.lastIndexOf('/') + 1);
            return last.isEmpty() || last.contains("*") ? listed(last) : List.of(one());
        } catch (SdkException e) {
            throw failed(e);
        }
    }

    private Item one() {
        HeadObjectResponse head = client.headObject(r -> r.bucket(bucket).key(key));
        return item(key, head.contentLength(), head.eTag());
    }

    private Item item(String itsKey, long bytes, String tag) {
        String its = "s3://" + bucket + "/" + itsKey;
        return new Item(
                its,
                Fetched.checkedName(itsKey.substring(itsKey.lastIndexOf('/') + 1), its),
                OptionalLong.of(bytes),
                tag);
    }

    private List<Item> listed(String pattern) {
        String prefix = key.substring(0, key.length() - pattern.length());
        Glob glob = new Glob(pattern.isEmpty() ? "*" : pattern);
        List<Item> items = new ArrayList<>();
        for (S3Object object : client.listObjectsV2Paginator(
                        r -> r.bucket(bucket).prefix(prefix).delimiter("/"))
                .contents()) {
            String name = object.key().substring(prefix.length());
            if (!name.isEmpty() && glob.matches(name)) {
                items.add(item(object.key(), object.size(), object.eTag()));
            }
        }
        if (items.isEmpty()) {
            throw Fetched.refused("no object is of this pattern", address, "check bucket and prefix");
        }
        return items;
    }

    @Override
    public InputStream open(Item item, long from) throws IOException {
        String itsKey = item.address().substring("s3://".length() + bucket.length() + 1);
        try {
            return client.getObject(r -> {
                r.bucket(bucket).key(itsKey).ifMatch(item.tag());
                if (from > 0) {
                    r.range("bytes=" + from + "-");
                }
            });
        } catch (SdkServiceException e) {
            if (e.statusCode() == PRECONDITION_FAILED
                    || e.statusCode() == NOT_FOUND
                    || e.statusCode() == RANGE_NOT_SATISFIABLE) {
                throw Fetched.changed(item.address());
            }
            if (e.statusCode() == FORBIDDEN) {
                throw failed(e);
            }
            throw new IOException(e.getMessage(), e);
        } catch (SdkClientException e) {
            throw new IOException(e.getMessage(), e);
        }
    }

    /** Puts a file beside the objects of the address, as one that is not there yet; its address. */
    String put(Path file) {
        String its = key.substring(0, key.lastIndexOf('/') + 1) + file.getFileName();
        String where = "s3://" + bucket + "/" + its;
        try {
            client.headObject(r -> r.bucket(bucket).key(its));
            throw new ToolException(ErrorKind.REFUSED, "there is such an object already", where, "move it away");
        } catch (NoSuchKeyException e) {
            // as it should be
        } catch (SdkException e) {
            throw failed(e);
        }
        try {
            client.putObject(r -> r.bucket(bucket).key(its), RequestBody.fromFile(file));
            return where;
        } catch (SdkException e) {
            throw failed(e);
        }
    }

    @Override
    public void close() {
        client.close();
    }
}
