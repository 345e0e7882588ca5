package sharptally.formats.job;

import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;

/**
 * Somebody who is told of the result of a run.
 *
 * @param when of which results
 * @param mail by mail
 * @param post by an HTTP POST of the run's summary as JSON, to this URL
 * @param redact whether values are hidden in it
 * @param hidden secrets that may stand in its addresses, and are shown to nobody
 */
public record Notice(When when, Optional<Mail> mail, Optional<String> post, boolean redact, Set<String> hidden) {
    public Notice {
        hidden = Set.copyOf(hidden);
    }

    Notice hiding(Set<String> secrets) {
        return new Notice(when, mail, post, redact, secrets);
    }

    /** A text without the secrets. */
    public String masked(String text) {
        String masked = text;
        for (String secret : hidden) {
            masked = masked.replace(secret, "***");
        }
        return masked;
    }

    /** Of which results somebody is told. */
    public enum When {
        /** The verdict or the number of differences is another one than that of the run before. */
        CHANGE,
        /** Anything but the same. */
        FAILURE,
        ALWAYS;

        @Override
        public String toString() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    /** How the connection to a mail server is made secret. */
    public enum Tls {
        NONE,
        /** It begins open and must then become encrypted. */
        STARTTLS,
        /** It is encrypted from its beginning. */
        IMPLICIT;

        @Override
        public String toString() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    /**
     * A mail with the result, the page attached.
     *
     * @param server host and port of an SMTP server
     * @param user by whom the server is asked, with the password that an environment variable holds
     * @param attach whether the page is attached
     */
    public record Mail(
            String server,
            Tls tls,
            String from,
            List<String> to,
            Optional<String> user,
            Optional<String> passwordVariable,
            boolean attach) {
        public Mail {
            to = List.copyOf(to);
        }
    }
}
