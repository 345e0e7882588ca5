package sharptally.engines.jdbc.connect;

import java.net.URI;
import java.net.URISyntaxException;
import java.util.Optional;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Address;

/**
 * The location of a database server: {@code //user@host:port/database}.
 *
 * @param port -1 for the engine's usual one
 */
public record ServerAddress(Optional<String> user, String host, int port, String database) {
    /**
     * @throws ToolException when the location is not of this form
     */
    public static ServerAddress of(Address address) {
        try {
            URI uri = new URI("x:" + address.location());
            String path = Optional.ofNullable(uri.getPath()).orElse("");
            if (uri.getHost() != null && path.length() > 1) {
                return new ServerAddress(
                        Optional.ofNullable(uri.getUserInfo()), uri.getHost(), uri.getPort(), path.substring(1));
            }
        } catch (URISyntaxException e) {
            throw malformed(address, e);
        }
        throw malformed(address, null);
    }

    private static ToolException malformed(Address address, @org.jspecify.annotations.Nullable Exception cause) {
        return new ToolException(
                ErrorKind.USAGE,
                "not the address of a server",
                address.toString(),
                "write " + address.engine() + "://user@host:port/database",
                cause);
    }

    /** The address without any user, as drivers want it. */
    public String hostAndPort() {
        return port < 0 ? host : host + ":" + port;
    }
}
