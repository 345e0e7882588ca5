package sharptally.core.place;

import java.util.Optional;

/**
 * How a connection to a server is kept from others.
 *
 * @param mode empty for what is usual: {@link Mode#VERIFY} where the server is another machine, else whatever driver and
 *     server agree upon
 * @param authority a file with certificates, in PEM, of those who may vouch for the server; empty for those that Java trusts
 * @param certificate a file with the client's own certificate
 * @param key a file with the key of that certificate, where it is not in the same file
 * @param password of that key
 */
public record Tls(
        Optional<Mode> mode,
        Optional<String> authority,
        Optional<String> certificate,
        Optional<String> key,
        Optional<Secret> password) {
    public static final Tls USUAL =
            new Tls(Optional.empty(), Optional.empty(), Optional.empty(), Optional.empty(), Optional.empty());

    /** How much is asked of the server. */
    public enum Mode {
        /** Encrypted, by a server of that name whose certificate somebody trusted vouches for. */
        VERIFY,
        /** Encrypted, by whomever. */
        REQUIRE,
        /** Neither. */
        OFF
    }
}
