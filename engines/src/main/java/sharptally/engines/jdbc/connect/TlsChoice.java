package sharptally.engines.jdbc.connect;

import java.net.InetAddress;
import java.net.NetworkInterface;
import java.net.SocketException;
import java.net.UnknownHostException;
import java.util.Optional;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.Tls;

/** How a server is spoken to, where its place does not say. */
public final class TlsChoice {
    private TlsChoice() {}

    /**
     * What is asked of the server; empty for what driver and server agree upon.
     *
     * @param setting of the driver, which says the same where the user gives it
     */
    public static Optional<Tls.Mode> of(PlaceAccess place, String host, String setting) {
        return place.tls()
                .mode()
                .or(() -> place.properties().containsKey(setting) || isThisMachine(host)
                        ? Optional.empty()
                        : Optional.of(Tls.Mode.VERIFY));
    }

    /** Whether what goes to a host stays within this machine. */
    static boolean isThisMachine(String host) {
        try {
            InetAddress address = InetAddress.getByName(host);
            return address.isLoopbackAddress() || NetworkInterface.getByInetAddress(address) != null;
        } catch (UnknownHostException | SocketException e) {
            return false;
        }
    }
}
