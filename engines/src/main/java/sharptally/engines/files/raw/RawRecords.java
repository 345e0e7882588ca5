package sharptally.engines.files.raw;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.lang.invoke.MethodHandles;
import java.lang.invoke.VarHandle;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.CharBuffer;
import java.nio.charset.CharsetDecoder;
import java.nio.charset.CodingErrorAction;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.Arrays;
import sharptally.engines.files.text.FileProblem;
import sharptally.engines.files.text.Unpacked;

/**
 * Goes through the records of a file as their reader does, but leaves their bytes where they are. What can't be told apart
 * in this way, or is wrong, is {@link #isIrregular}: whoever reads the rows then says what it is. Used by one thread.
 */
public final class RawRecords implements AutoCloseable {
    private static final int BUFFER_BYTES = 1 << 18;
    /** Larger records are left to others. */
    private static final int MAX_RECORD_BYTES = 16 << 20;

    private static final VarHandle LONG = MethodHandles.byteArrayViewVarHandle(long[].class, ByteOrder.LITTLE_ENDIAN);

    private static final long ONES = 0x0101_0101_0101_0101L;
    private static final long LINE_FEEDS = '\n' * ONES;
    private static final long RETURNS = '\r' * ONES;

    private static final byte[] MARK = {(byte) 0xEF, (byte) 0xBB, (byte) 0xBF};

    private final Path file;
    private final InputStream in;
    private final RawForm form;
    private final CharsetDecoder decoder;
    private final long delimiters;
    private final long quotes;
    private final byte[] nothing;
    /** Behind what is filled, there is room for eight bytes more. */
    private byte[] buffer = new byte[BUFFER_BYTES + Long.BYTES];

    private int begin;
    private int end;
    private int next;
    private int filled;
    private boolean atEnd;
    /** All bits that are set in the record, or near it. */
    private long seen;

    private int fields;
    private int[] starts = new int[32];
    private int[] ends = new int[32];
    private boolean[] quoted = new boolean[32];
    private boolean[] doubled = new boolean[32];
    private long line;
    private long lastLine;
    private long nextLine;
    private long passed;
    private boolean irregular;
    private byte[] plain = new byte[256];

    /** Where a record begins. */
    public record Place(long offset, long line) {
        private static final Place BEGIN = new Place(0, 1);
    }

    /** From the first record behind that which names the columns. */
    public RawRecords(Path file, RawForm form) {
        this(file, form, Place.BEGIN);
        boolean marked = form.charset().equals(StandardCharsets.UTF_8)
                && filled >= MARK.length
                && Arrays.equals(buffer, 0, MARK.length, MARK, 0, MARK.length);
        next = marked ? MARK.length : 0;
        if (form.header()) {
            split();
        }
    }

    /** From a record that was seen there. */
    public RawRecords(Path file, RawForm form, Place from) {
        this.file = file;
        this.form = form;
        this.nothing = form.nothing();
        this.passed = from.offset;
        this.nextLine = from.line;
        this.delimiters = (form.delimiter() & 0xFF) * ONES;
        this.quotes = (form.quote() & 0xFF) * ONES;
        this.decoder = form.charset()
                .newDecoder()
                .onMalformedInput(CodingErrorAction.REPORT)
                .onUnmappableCharacter(CodingErrorAction.REPORT);
        try {
            this.in = Unpacked.open(file);
            in.skipNBytes(from.offset);
            fill();
        } catch (IOException e) {
            throw FileProblem.of(file, e);
        }
    }

    /** Where the record begins. */
    public Place place() {
        return new Place(passed + begin, line);
    }

    /** More bytes behind the record that begins at {@code begin}, which moves to the front. */
    private void fill() throws IOException {
        int kept = filled - begin;
        if (kept == buffer.length - Long.BYTES) {
            buffer = Arrays.copyOf(buffer, buffer.length * 2);
        } else if (begin > 0) {
            System.arraycopy(buffer, begin, buffer, 0, kept);
        }
        filled = kept;
        passed += begin;
        begin = 0;
        while (filled < buffer.length - Long.BYTES && !atEnd) {
            int read = in.read(buffer, filled, buffer.length - Long.BYTES - filled);
            atEnd = read < 0;
            filled += Math.max(0, read);
        }
    }

    /** Goes to the next record, which has a field for each column; false at the end, and where the rest is irregular. */
    public boolean advance() {
        while (split()) {
            boolean isBlank = fields == 1 && form.names().size() > 1 && starts[0] == ends[0] && !quoted[0];
            if (isBlank) {
                continue;
            }
            irregular = irregular || fields != form.names().size();
            return !irregular;
        }
        return false;
    }

    private boolean split() {
        try {
            begin = next;
            while (!irregular && !(begin == filled && atEnd)) {
                if (begin < filled && isWhole()) {
                    check();
                    return !irregular;
                }
                if (atEnd || filled - begin > MAX_RECORD_BYTES) {
                    irregular = true;
                } else if (!irregular) {
                    fill();
                }
            }
            return false;
        } catch (IOException e) {
            throw FileProblem.of(file, e);
        }
    }

    /** Takes the record apart; false where its end is not here yet, or where it is irregular. */
    private boolean isWhole() {
        byte[] b = buffer;
        byte delimiter = form.delimiter();
        byte quote = form.quote();
        int p = begin;
        fields = 0;
        seen = 0;
        line = nextLine;
        long breaks = 0;
        while (true) {
            if (fields == starts.length) {
                grow();
            }
            int from = p;
            if (quote != 0 && p < filled && b[p] == quote) {
                boolean twice = false;
                int q = p + 1;
                while (true) {
                    q = Math.min(filled, of(quotes, q));
                    if (q >= filled - 1 && !(atEnd && q == filled - 1)) {
                        return false;
                    }
                    if (q + 1 < filled && b[q + 1] == quote) {
                        twice = true;
                        q += 2;
                    } else {
                        break;
                    }
                }
                field(from + 1, q, true, twice);
                breaks += breaks(from + 1, q);
                p = q + 1;
            } else {
                p = endOfField(p);
                field(from, p, false, false);
            }
            if (p == filled && !atEnd) {
                return false;
            }
            lastLine = line + breaks;
            if (p == filled) {
                end = p;
                next = p;
                nextLine = lastLine;
                return true;
            }
            if (b[p] == delimiter) {
                p++;
            } else if (b[p] == '\n' || b[p] == '\r' && (p + 1 < filled || atEnd)) {
                end = p;
                next = b[p] == '\r' && p + 1 < filled && b[p + 1] == '\n' ? p + 2 : p + 1;
                nextLine = lastLine + 1;
                return true;
            } else {
                // Something behind a closing quote, or a line feed that may come.
                irregular = b[p] != '\r';
                return false;
            }
        }
    }

    /** The next delimiter or end of a line; where the bytes end, if there is none. */
    private int endOfField(int from) {
        int p = from;
        while (p < filled) {
            long word = (long) LONG.get(buffer, p);
            seen |= word;
            long found = zeros(word ^ delimiters) | zeros(word ^ LINE_FEEDS) | zeros(word ^ RETURNS);
            if (found != 0) {
                return Math.min(filled, p + (Long.numberOfTrailingZeros(found) >>> 3));
            }
            p += Long.BYTES;
        }
        return filled;
    }

    private int of(long bytes, int from) {
        int p = from;
        while (p < filled) {
            long word = (long) LONG.get(buffer, p);
            seen |= word;
            long found = zeros(word ^ bytes);
            if (found != 0) {
                return p + (Long.numberOfTrailingZeros(found) >>> 3);
            }
            p += Long.BYTES;
        }
        return filled;
    }

    /** The highest bit of the lowest byte that is zero, and maybe bits above it; 0 where none is. */
    private static long zeros(long word) {
        return word - ONES & ~word & ONES << 7;
    }

    private void grow() {
        starts = Arrays.copyOf(starts, fields * 2);
        ends = Arrays.copyOf(ends, fields * 2);
        quoted = Arrays.copyOf(quoted, fields * 2);
        doubled = Arrays.copyOf(doubled, fields * 2);
    }

    private void field(int from, int to, boolean isQuoted, boolean twice) {
        starts[fields] = from;
        ends[fields] = to;
        quoted[fields] = isQuoted;
        doubled[fields++] = twice;
    }

    private long breaks(int from, int to) {
        long breaks = 0;
        for (int i = from; i < to; i++) {
            boolean both = buffer[i] == '\r' && i + 1 < to && buffer[i + 1] == '\n';
            breaks += (buffer[i] == '\n' || buffer[i] == '\r') && !both ? 1 : 0;
        }
        return breaks;
    }

    /** Whether all bytes are characters of the encoding. */
    private void check() {
        if ((seen & ONES << 7) == 0 || form.charset().equals(StandardCharsets.ISO_8859_1)) {
            return;
        }
        CharBuffer chars = CharBuffer.allocate(end - begin + 1);
        decoder.reset();
        irregular = decoder.decode(ByteBuffer.wrap(buffer, begin, end - begin), chars, true)
                        .isError()
                || decoder.flush(chars).isError();
    }

    /** Whether something came that this can't take apart; then what came before it is worth nothing either. */
    public boolean isIrregular() {
        return irregular;
    }

    /** The line on which the record begins. */
    public long line() {
        return line;
    }

    /** The line on which it ends. */
    public long lastLine() {
        return lastLine;
    }

    public boolean isNull(int field) {
        int length = ends[field] - starts[field];
        return !quoted[field] && length == nothing.length && (length == 0 || isNothing(field));
    }

    private boolean isNothing(int field) {
        return Arrays.equals(buffer, starts[field], ends[field], nothing, 0, nothing.length);
    }

    /** Told the bytes of a field. */
    public interface Bytes {
        long of(byte[] bytes, int from, int length);
    }

    /** What is made of a field's bytes, in which each quote stands once. */
    public long of(int field, Bytes made) {
        if (!doubled[field]) {
            return made.of(buffer, starts[field], ends[field] - starts[field]);
        }
        int length = 0;
        if (plain.length < ends[field] - starts[field]) {
            plain = new byte[(ends[field] - starts[field]) * 2];
        }
        for (int i = starts[field]; i < ends[field]; i++) {
            plain[length++] = buffer[i];
            if (buffer[i] == form.quote()) {
                i++;
            }
        }
        return made.of(plain, 0, length);
    }

    /** Writes the record as it stands, without its end. */
    public int writeTo(OutputStream out) throws IOException {
        out.write(buffer, begin, end - begin);
        return end - begin;
    }

    @Override
    public void close() {
        try {
            in.close();
        } catch (IOException e) {
            throw FileProblem.of(file, e);
        }
    }
}
