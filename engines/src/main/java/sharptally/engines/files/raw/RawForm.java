package sharptally.engines.files.raw;

import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Optional;

/**
 * How the bytes of a file stand for records, where each byte of the delimiter, the quote and the ends of lines is that and
 * nothing else.
 *
 * @param quote 0 where nothing is quoted
 * @param nothing what stands for NULL where it is not quoted
 * @param header whether the first record names the columns
 * @param names of the columns
 */
public record RawForm(Charset charset, byte delimiter, byte quote, byte[] nothing, boolean header, List<String> names) {
    private static final List<Charset> OF_BYTES = List.of(
            StandardCharsets.UTF_8,
            StandardCharsets.US_ASCII,
            StandardCharsets.ISO_8859_1,
            Charset.forName("windows-1252"));

    public RawForm {
        names = List.copyOf(names);
    }

    /** Empty where a byte may be a part of something else. */
    public static Optional<RawForm> of(
            Charset charset, char delimiter, char quote, String nothing, boolean header, List<String> names) {
        boolean plain = OF_BYTES.contains(charset) && delimiter < 0x80 && quote < 0x80;
        return plain
                ? Optional.of(
                        new RawForm(charset, (byte) delimiter, (byte) quote, nothing.getBytes(charset), header, names))
                : Optional.empty();
    }
}
