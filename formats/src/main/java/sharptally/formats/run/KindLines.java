package sharptally.formats.run;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.List;
import java.util.Set;
import java.util.stream.Stream;
import sharptally.core.finding.FindingKind;

/**
 * The lines of a findings file but those of kinds that are not wanted, which are passed over without being parsed. A
 * line that does not begin as ours do is kept, so that the parser can tell what is wrong with it.
 */
final class KindLines extends InputStream {
    private static final int BUFFER = 1 << 16;

    private final InputStream in;
    private final List<byte[]> unwanted;
    private final int longest;
    private byte[] buffer = new byte[BUFFER];
    private int at;
    private int end;
    private boolean passing;
    private boolean atStart = true;
    private long passed;

    KindLines(InputStream in, Set<FindingKind> wanted) {
        this.in = in;
        this.unwanted = Stream.of(FindingKind.values())
                .filter(kind -> !wanted.contains(kind))
                .map(kind -> ("{\"kind\":\"" + kind.word() + '"').getBytes(StandardCharsets.UTF_8))
                .toList();
        this.longest = unwanted.stream().mapToInt(u -> u.length).max().orElse(0);
    }

    /** Lines that were passed over so far. */
    long passed() {
        return passed;
    }

    @Override
    public int read() throws IOException {
        byte[] one = new byte[1];
        return read(one, 0, 1) < 0 ? -1 : one[0] & 0xFF;
    }

    @Override
    public int read(byte[] into, int offset, int length) throws IOException {
        if (length == 0) {
            return 0;
        }
        while (true) {
            if (at == end && !fill(1)) {
                return -1;
            }
            if (atStart) {
                fill(longest);
                passing = isUnwanted();
                passed += passing ? 1 : 0;
                atStart = false;
            }
            int stop = lineEnd();
            if (passing) {
                at = stop;
            } else {
                int count = Math.min(length, stop - at);
                System.arraycopy(buffer, at, into, offset, count);
                at += count;
                atStart = buffer[at - 1] == '\n';
                return count;
            }
            atStart = buffer[at - 1] == '\n';
        }
    }

    private boolean isUnwanted() {
        return unwanted.stream()
                .anyMatch(u -> end - at >= u.length && Arrays.equals(buffer, at, at + u.length, u, 0, u.length));
    }

    /** Behind the end of the line, or of what is in the buffer. */
    private int lineEnd() {
        for (int i = at; i < end; i++) {
            if (buffer[i] == '\n') {
                return i + 1;
            }
        }
        return end;
    }

    /** Sees to it that so many bytes are in the buffer, if there are so many. */
    private boolean fill(int wanted) throws IOException {
        if (end - at < wanted) {
            System.arraycopy(buffer, at, buffer, 0, end - at);
            end -= at;
            at = 0;
            while (end < wanted) {
                int read = in.read(buffer, end, buffer.length - end);
                if (read < 0) {
                    break;
                }
                end += read;
            }
        }
        return end > at;
    }

    @Override
    public void close() throws IOException {
        in.close();
    }
}
