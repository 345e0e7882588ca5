package sharptally.report.findings;

import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.security.SecureRandom;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.Optional;
import javax.crypto.Mac;
import javax.crypto.spec.SecretKeySpec;

/**
 * Hides values: of each, only its length is told, and a mark that is the same for equal values of one report. The mark is
 * keyed with a number that is kept nowhere, so that values can't be found out by trying.
 */
public final class Redaction {
    private static final int KEY_BYTES = 32;
    private static final int MARK_BYTES = 3;

    private final Optional<byte[]> key;

    private Redaction(Optional<byte[]> key) {
        this.key = key;
    }

    /** Hides nothing. */
    public static Redaction none() {
        return new Redaction(Optional.empty());
    }

    public static Redaction hiding() {
        byte[] bytes = new byte[KEY_BYTES];
        new SecureRandom().nextBytes(bytes);
        return new Redaction(Optional.of(bytes));
    }

    public boolean isHiding() {
        return key.isPresent();
    }

    /** The text, or what may be told of it. NULL is told. */
    public String of(String text) {
        if (key.isEmpty() || text.equals("NULL") || text.isEmpty() || text.equals("-")) {
            return text;
        }
        try {
            Mac mac = Mac.getInstance("HmacSHA256");
            mac.init(new SecretKeySpec(key.get(), "HmacSHA256"));
            byte[] mark = mac.doFinal(text.getBytes(StandardCharsets.UTF_8));
            return "(" + text.codePointCount(0, text.length()) + " letters) #"
                    + HexFormat.of().formatHex(Arrays.copyOf(mark, MARK_BYTES));
        } catch (GeneralSecurityException e) {
            throw new IllegalStateException("every Java has HMAC-SHA256", e);
        }
    }
}
