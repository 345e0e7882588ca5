package sharptally.engines.files.remote;

import java.io.IOException;
import java.io.InputStream;
import java.io.InterruptedIOException;
import java.net.URI;
import java.net.URLDecoder;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.Base64;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.Secret;

/** One file behind https; behind http only on this machine, as all that passes could be read on the way. */
final class HttpStore implements Store {
    private static final Duration PATIENCE = Duration.ofSeconds(60);
    private static final Set<String> HERE = Set.of("localhost", "127.0.0.1", "[::1]");
    private static final int OK = 200;
    private static final int PARTIAL = 206;
    private static final int UNAUTHORIZED = 401;
    private static final int FORBIDDEN = 403;
    private static final int NOT_FOUND = 404;
    private static final int GONE = 410;
    private static final int PRECONDITION_FAILED = 412;
    private static final int FIRST_SERVER_ERROR = 500;

    private final String address;
    private final URI uri;
    private final Optional<String> authorization;
    private final HttpClient client = HttpClient.newBuilder()
            .followRedirects(HttpClient.Redirect.NORMAL)
            .connectTimeout(PATIENCE)
            .build();

    HttpStore(PlaceAccess access) {
        this.address = access.label().withoutTable().toString();
        try {
            this.uri = URI.create(access.address().location());
        } catch (IllegalArgumentException e) {
            throw new ToolException(
                    ErrorKind.USAGE, "not an address of the web", address, "write what is special in it as %XX", e);
        }
        if (uri.getScheme().equals("http") && !HERE.contains(String.valueOf(uri.getHost()))) {
            throw new ToolException(
                    ErrorKind.REFUSED, "over http, others could read and change what is fetched", address, "use https");
        }
        this.authorization = access.user()
                .map(user -> "Basic "
                        + Base64.getEncoder()
                                .encodeToString((user + ":"
                                                + access.password()
                                                        .map(Secret::reveal)
                                                        .orElse(""))
                                        .getBytes(StandardCharsets.UTF_8)));
    }

    static boolean isMeant(String location) {
        return location.startsWith("https://") || location.startsWith("http://");
    }

    private HttpRequest.Builder request() {
        HttpRequest.Builder request = HttpRequest.newBuilder(uri).timeout(PATIENCE);
        authorization.ifPresent(a -> request.header("Authorization", a));
        return request;
    }

    private <T> HttpResponse<T> sent(HttpRequest request, HttpResponse.BodyHandler<T> handler) throws IOException {
        try {
            return client.send(request, handler);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new InterruptedIOException("interrupted");
        }
    }

    @Override
    public List<Item> items() {
        String path = Optional.ofNullable(uri.getPath()).orElse("");
        String name = Fetched.checkedName(path.substring(path.lastIndexOf('/') + 1), address);
        if (name.contains("*")) {
            throw new ToolException(
                    ErrorKind.USAGE, "a web server lists no files", address, "name each file by itself");
        }
        try {
            HttpResponse<Void> head = sent(
                    request()
                            .method("HEAD", HttpRequest.BodyPublishers.noBody())
                            .build(),
                    BodyHandlers.discarding());
            check(head.statusCode());
            return List.of(new Item(
                    address,
                    URLDecoder.decode(name.replace("+", "%2B"), StandardCharsets.UTF_8),
                    head.headers().firstValueAsLong("content-length"),
                    head.headers()
                            .firstValue("etag")
                            .filter(tag -> !tag.startsWith("W/"))
                            .or(() -> head.headers().firstValue("last-modified"))
                            .orElse("")));
        } catch (IOException e) {
            throw Fetched.refused("the server can't be reached (" + said(e) + ")", address, "check the address");
        }
    }

    private static String said(IOException e) {
        return e.getMessage() == null ? e.getClass().getSimpleName() : e.getMessage();
    }

    private void check(int status) {
        switch (status) {
            case OK, PARTIAL -> {
                // as it should be
            }
            case NOT_FOUND, GONE -> throw Fetched.refused("no such file", address, "check the address");
            case UNAUTHORIZED, FORBIDDEN ->
                throw Fetched.refused(
                        "the server refuses us (" + status + ")",
                        address,
                        "give user and password under a name in connections.yaml");
            default -> throw Fetched.refused("the server answers " + status, address, "check the address");
        }
    }

    @Override
    public InputStream open(Item item, long from) throws IOException {
        HttpRequest.Builder request = request();
        if (from > 0) {
            request.header("Range", "bytes=" + from + "-");
        }
        if (item.tag().startsWith("\"")) {
            request.header("If-Match", item.tag());
        } else if (!item.tag().isEmpty()) {
            request.header("If-Unmodified-Since", item.tag());
        }
        HttpResponse<InputStream> response = sent(request.GET().build(), BodyHandlers.ofInputStream());
        String tag = response.headers()
                .firstValue(item.tag().startsWith("\"") ? "etag" : "last-modified")
                .orElse(item.tag());
        if (response.statusCode() == PRECONDITION_FAILED || !item.tag().isEmpty() && !tag.equals(item.tag())) {
            response.body().close();
            throw Fetched.changed(address);
        }
        if (response.statusCode() >= FIRST_SERVER_ERROR) {
            response.body().close();
            throw new IOException("the server answers " + response.statusCode());
        }
        check(response.statusCode());
        if (from > 0 && response.statusCode() != PARTIAL) {
            // All of it comes again.
            response.body().skipNBytes(from);
        }
        return response.body();
    }

    @Override
    public void close() {}
}
