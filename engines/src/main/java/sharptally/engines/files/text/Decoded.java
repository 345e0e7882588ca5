package sharptally.engines.files.text;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.PushbackInputStream;
import java.io.Reader;
import java.nio.ByteBuffer;
import java.nio.CharBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.Charset;
import java.nio.charset.CharsetDecoder;
import java.nio.charset.CoderResult;
import java.nio.charset.CodingErrorAction;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.Optional;

/**
 * The characters of a file. Without a word of the user's, a byte order mark tells the encoding, else zeros in every second
 * byte, else whether the first bytes are UTF-8; what is none of that is taken for windows-1252. Bytes that are no character
 * of the encoding are an error, wherever they come.
 */
public final class Decoded implements AutoCloseable {
    private static final int LOOKED_AT_BYTES = 1 << 20;
    private static final Charset FALLBACK = Charset.forName("windows-1252");

    private final Path file;
    private final Charset charset;
    private final boolean guessed;
    private final Reader reader;

    private Decoded(Path file, Charset charset, boolean guessed, Reader reader) {
        this.file = file;
        this.charset = charset;
        this.guessed = guessed;
        this.reader = reader;
    }

    /**
     * @param wanted the encoding, where the user says it
     */
    public static Decoded open(Path file, Optional<Charset> wanted) throws IOException {
        InputStream bytes = Unpacked.open(file);
        try {
            PushbackInputStream back = new PushbackInputStream(bytes, LOOKED_AT_BYTES);
            byte[] first = back.readNBytes(LOOKED_AT_BYTES);
            // Which of both orders of bytes is meant by UTF-16 is found here.
            Charset charset =
                    wanted.filter(c -> !c.equals(StandardCharsets.UTF_16)).orElseGet(() -> found(first));
            int mark = markBytes(first, charset);
            back.unread(first, mark, first.length - mark);
            CharsetDecoder decoder = charset.newDecoder()
                    .onMalformedInput(CodingErrorAction.REPORT)
                    .onUnmappableCharacter(CodingErrorAction.REPORT);
            return new Decoded(file, charset, wanted.isEmpty(), new InputStreamReader(back, decoder));
        } catch (IOException | RuntimeException e) {
            bytes.close();
            throw e;
        }
    }

    /** Of bytes that were taken out of a file, and are known to be text in this encoding. */
    static Decoded of(Path file, byte[] bytes, Charset charset) {
        return new Decoded(file, charset, false, new InputStreamReader(new ByteArrayInputStream(bytes), charset));
    }

    private static Charset found(byte[] first) {
        if (startsWith(first, 0xFE, 0xFF)) {
            return StandardCharsets.UTF_16BE;
        } else if (startsWith(first, 0xFF, 0xFE)) {
            return StandardCharsets.UTF_16LE;
        }
        int even = 0;
        int odd = 0;
        for (int i = 0; i < Math.min(first.length, 4_096); i++) {
            if (first[i] == 0) {
                even += i % 2 == 0 ? 1 : 0;
                odd += i % 2;
            }
        }
        int half = Math.min(first.length, 4_096) / 2;
        if (half > 1 && odd > half / 2 && even == 0) {
            return StandardCharsets.UTF_16LE;
        } else if (half > 1 && even > half / 2 && odd == 0) {
            return StandardCharsets.UTF_16BE;
        }
        return isUtf8(first) ? StandardCharsets.UTF_8 : FALLBACK;
    }

    private static boolean isUtf8(byte[] first) {
        CharsetDecoder decoder = StandardCharsets.UTF_8
                .newDecoder()
                .onMalformedInput(CodingErrorAction.REPORT)
                .onUnmappableCharacter(CodingErrorAction.REPORT);
        // A character that was cut in two at the end of what is looked at is none that is broken.
        CoderResult result = decoder.decode(
                ByteBuffer.wrap(first), CharBuffer.allocate(first.length + 1), first.length < LOOKED_AT_BYTES);
        return !result.isError();
    }

    private static boolean startsWith(byte[] bytes, int... mark) {
        for (int i = 0; i < mark.length; i++) {
            if (bytes.length <= i || (bytes[i] & 0xFF) != mark[i]) {
                return false;
            }
        }
        return true;
    }

    private static int markBytes(byte[] first, Charset charset) {
        if (charset.equals(StandardCharsets.UTF_8) && startsWith(first, 0xEF, 0xBB, 0xBF)) {
            return 3;
        }
        boolean wide = charset.name().startsWith("UTF-16");
        return wide && (startsWith(first, 0xFE, 0xFF) || startsWith(first, 0xFF, 0xFE)) ? 2 : 0;
    }

    public Charset charset() {
        return charset;
    }

    public Reader reader() {
        return reader;
    }

    /**
     * What to say of a failure while the file was read.
     *
     * @param line at or after which it lies
     */
    sharptally.core.fault.ToolException failed(IOException e, long line) {
        if (e instanceof CharacterCodingException && guessed && charset.equals(FALLBACK)) {
            return FileProblem.at(
                    file,
                    line,
                    "after this line, bytes that are text neither in UTF-8 nor in " + charset.name(),
                    "name the encoding (?encoding=); a compressed file's name ends in "
                            + String.join(", ", Unpacked.ENDINGS));
        }
        if (e instanceof CharacterCodingException) {
            return FileProblem.at(
                    file,
                    line,
                    "after this line, bytes that are no character in " + charset.name(),
                    "name the encoding, such as ?encoding=windows-1252");
        }
        return FileProblem.of(file, e);
    }

    @Override
    public void close() throws IOException {
        reader.close();
    }
}
