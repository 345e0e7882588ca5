package sharptally.engines.files.dump;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import sharptally.core.fault.ToolException;
import sharptally.engines.files.text.FileProblem;

/** The bytes of a dump, one after the other, with a look at the next ones, and where they stand. Used by one thread. */
final class DumpBytes implements AutoCloseable {
    private static final int AHEAD = 64;

    private final DumpText text;
    private final int part;
    private final InputStream in;
    private final byte[] buffer = new byte[1 << 16];
    private int at;
    private int filled;
    private long passed;
    private long line;

    /** Where something stands, in which part of the dump. */
    record Place(int part, long offset, long line) implements Comparable<Place> {
        static Place begin(int part) {
            return new Place(part, 0, 1);
        }

        @Override
        public int compareTo(Place other) {
            return part != other.part ? Integer.compare(part, other.part) : Long.compare(offset, other.offset);
        }
    }

    DumpBytes(DumpText text, Place from) {
        this.text = text;
        this.part = from.part();
        this.line = from.line();
        this.passed = from.offset();
        try {
            this.in = text.open(part);
            in.skipNBytes(from.offset());
        } catch (IOException e) {
            throw FileProblem.of(file(), e);
        }
    }

    private Path file() {
        return text.parts().get(part);
    }

    Place place() {
        return new Place(part, passed + at, line);
    }

    private boolean has(int bytes) {
        while (filled - at < bytes) {
            System.arraycopy(buffer, at, buffer, 0, filled - at);
            filled -= at;
            passed += at;
            at = 0;
            try {
                int read = in.read(buffer, filled, buffer.length - filled);
                if (read < 0) {
                    return false;
                }
                filled += read;
            } catch (IOException e) {
                throw FileProblem.of(file(), e);
            }
        }
        return true;
    }

    /** The next byte; negative at the end. */
    int read() {
        if (at == filled && !has(1)) {
            return -1;
        }
        int b = buffer[at++] & 0xFF;
        if (b == '\n') {
            line++;
        }
        return b;
    }

    int peek() {
        return at == filled && !has(1) ? -1 : buffer[at] & 0xFF;
    }

    /** Whether this comes next, letter case aside; at most some dozen letters. */
    boolean isNext(String word) {
        if (word.length() > AHEAD || !has(word.length())) {
            return false;
        }
        for (int i = 0; i < word.length(); i++) {
            if (Character.toUpperCase(buffer[at + i] & 0xFF) != Character.toUpperCase(word.charAt(i))) {
                return false;
            }
        }
        return true;
    }

    void skip(int bytes) {
        for (int i = 0; i < bytes; i++) {
            read();
        }
    }

    /** The rest of the line. */
    String line() {
        StringBuilder text = new StringBuilder();
        int b = read();
        for (; b >= 0 && b != '\n'; b = read()) {
            if (text.length() < 1_000) {
                text.append((char) b);
            }
        }
        return text.toString().strip();
    }

    /** How the text begins, without going on. */
    String begin() {
        has(buffer.length);
        return new String(buffer, at, filled - at, StandardCharsets.ISO_8859_1);
    }

    ToolException problem(String what, String mend) {
        return FileProblem.at(file(), line, what, mend);
    }

    ToolException cut() {
        return FileProblem.at(file(), line, "the dump ends in the middle", "it was cut off: get it again");
    }

    @Override
    public void close() {
        try {
            in.close();
        } catch (IOException e) {
            throw FileProblem.of(file(), e);
        }
    }
}
