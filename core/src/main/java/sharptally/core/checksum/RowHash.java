package sharptally.core.checksum;

import java.io.ByteArrayOutputStream;
import java.nio.ByteBuffer;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.List;
import sharptally.core.types.Value;

/** The hash of a row in the common form: the first eight bytes of the MD5 of its values' texts. Used by one thread. */
public final class RowHash {
    private static final byte SEPARATOR = '|';

    private final MessageDigest md5;
    private final ByteArrayOutputStream record = new ByteArrayOutputStream();

    public RowHash() {
        try {
            md5 = MessageDigest.getInstance("MD5");
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException("every Java has MD5", e);
        }
    }

    /** As a number of 64 bits, the first byte being the highest. */
    public long of(List<Value> row) {
        record.reset();
        for (int i = 0; i < row.size(); i++) {
            if (i > 0) {
                record.write(SEPARATOR);
            }
            record.writeBytes(CommonText.bytes(row.get(i)));
        }
        return ByteBuffer.wrap(md5.digest(record.toByteArray())).getLong();
    }
}
