package sharptally.engines.files.text;

import java.io.IOException;
import java.io.Reader;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import sharptally.core.rows.Column;

/**
 * Fields between tabs, as databases write them: what can't stand in a field is written behind a backslash ({@code \t},
 * {@code \n}, {@code \\}), and NULL is {@code \N}. Quotes mean nothing.
 */
final class EscapedRows implements RowsOfFile {
    private static final int MAX_RECORD_CHARS = 32 << 20;
    /** Behind a backslash: what stands for what. */
    private static final String LETTERS = "bfnrtv0Z";

    private static final String MEANT = "\b\f\n\r\t\u000B\0\u001A";
    private static final String NULL = "\\N";

    private final Path file;
    private final Decoded text;
    private final char delimiter;
    private final String nothing;
    private final Record record = new Record();
    private final Map<String, String> facts = new LinkedHashMap<>();
    private final List<String> names;
    private final char[] buffer = new char[1 << 16];
    private int at;
    private int filled;
    private long lines = 1;
    private boolean pending;
    /** Whether lines end in one, as the first does; else it is a letter like any other. */
    private boolean carriageReturns;

    EscapedRows(Path file, FileForm form) throws IOException {
        this.file = file;
        this.delimiter = form.delimiter().orElse('\t');
        this.nothing = form.nothing().orElse(NULL);
        this.text = Decoded.open(file, form.encoding());
        facts.put("encoding", text.charset().name());
        facts.put("delimiter", Header.word(delimiter));
        try {
            boolean any = advance();
            Header header = Header.of(file, form, any ? record.texts() : List.of());
            this.names = header.names();
            this.pending = any && !header.isRecord();
            facts.put("header", header.isRecord() ? "yes" : "no");
        } catch (RuntimeException e) {
            close();
            throw e;
        }
    }

    @Override
    public List<String> names() {
        return names;
    }

    @Override
    public Map<String, String> facts() {
        return facts;
    }

    @Override
    public boolean next() {
        boolean any = pending || advance();
        pending = false;
        while (any && names.size() > 1 && record.fields() == 1 && record.is(0, "")) {
            any = advance();
        }
        if (any && record.fields() != names.size()) {
            throw FileProblem.at(
                    file,
                    record.line(),
                    "this record has " + record.fields() + (record.fields() == 1 ? " field" : " fields") + ", not "
                            + names.size(),
                    "mend the line; for another delimiter say ?delimiter=");
        }
        return any;
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

    private boolean advance() {
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
    public long line() {
        return record.line();
    }

    @Override
    public void add(int field, Column into) {
        // A text that was written behind a backslash is no NULL, even if it reads like one.
        if (!record.isQuoted(field) && record.is(field, nothing)) {
            into.addNull();
        } else {
            record.add(field, into);
        }
    }

    @Override
    public void close() {
        try {
            text.close();
        } catch (IOException e) {
            throw FileProblem.of(file, e);
        }
    }
}
