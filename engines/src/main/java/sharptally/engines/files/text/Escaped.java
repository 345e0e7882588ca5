package sharptally.engines.files.text;

import java.io.IOException;
import java.io.Reader;
import java.nio.file.Path;
import sharptally.engines.files.write.RecordWriting;

/**
 * Fields between tabs, as databases write them: what can't stand in a field is written behind a backslash ({@code \t},
 * {@code \n}, {@code \\}), and NULL is {@code \N}. Quotes mean nothing.
 */
final class Escaped implements RecordReader {
    private static final int MAX_RECORD_CHARS = 32 << 20;
    /** Behind a backslash: what stands for what. */
    private static final String LETTERS = "bfnrtv0Z";

    private static final String MEANT = "\b\f\n\r\t\u000B\0\u001A";
    private static final String NULL = "\\N";

    private final Path file;
    private final Decoded text;
    private final char delimiter;
    private final Record record = new Record();
    private final char[] buffer = new char[1 << 16];
    private int at;
    private int filled;
    private long lines = 1;
    /** Whether lines end in one, as the first does; else it is a letter like any other. */
    private boolean carriageReturns;

    private Escaped(Path file, FileForm form, Decoded text) {
        this.file = file;
        this.text = text;
        this.delimiter = form.delimiter().orElseThrow();
    }

    static RowsOfFile rows(Path file, FileForm form) throws IOException {
        FileForm decided = form.delimiter().isPresent() ? form : form.delimitedBy('\t');
        Decoded text = Decoded.open(file, form.encoding());
        return new RecordRows(
                file,
                decided,
                new Escaped(file, decided, text),
                text,
                new RecordWriting(
                        file,
                        text.charset(),
                        decided.delimiter().orElseThrow(),
                        '\0',
                        true,
                        form.nothing().orElse(NULL)));
    }

    @Override
    public Record record() {
        return record;
    }

    /** The next character; negative at the end. */
    private int read() {
        if (at == filled) {
            try {
                Reader reader = text.reader();
                filled = reader.read(buffer, 0, buffer.length);
            } catch (IOException e) {
                throw text.failed(e, lines);
            }
            at = 0;
            if (filled <= 0) {
                filled = 0;
                return -1;
            }
        }
        return buffer[at++];
    }

    @Override
    public long lastLine() {
        return lines - 1;
    }

    @Override
    public boolean advance() {
        record.begin(lines);
        int c = read();
        if (c < 0) {
            return false;
        }
        boolean escaped = false;
        int length = 0;
        for (; c >= 0 && c != '\n'; c = read()) {
            if (++length > MAX_RECORD_CHARS) {
                throw FileProblem.at(
                        file, lines, "a record of more than " + MAX_RECORD_CHARS + " characters", "mend the line");
            }
            if (c == delimiter) {
                record.endField(escaped);
                escaped = false;
            } else if (c == '\r') {
                c = read();
                boolean atEnd = c == '\n' || c < 0;
                carriageReturns = carriageReturns || atEnd && lines == 1;
                if (atEnd && carriageReturns) {
                    break;
                }
                record.append('\r');
                if (c < 0) {
                    break;
                }
                at--;
            } else if (c == '\\') {
                escaped = unescape(read()) || escaped;
            } else {
                record.append((char) c);
            }
        }
        record.endField(escaped);
        lines++;
        return true;
    }

    /** False where the two characters are left as they are, as in {@code \N}. */
    private boolean unescape(int c) {
        int letter = c < 0 ? -1 : LETTERS.indexOf(c);
        if (c == 'N' || c < 0) {
            record.append('\\');
            if (c >= 0) {
                record.append('N');
            }
            return false;
        }
        if (c == '\n') {
            lines++;
        }
        record.append(letter >= 0 ? MEANT.charAt(letter) : (char) c);
        return true;
    }

    @Override
    public void close() throws IOException {
        text.close();
    }
}
