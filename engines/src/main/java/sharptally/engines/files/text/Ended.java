package sharptally.engines.files.text;

import java.io.FilterReader;
import java.io.IOException;
import java.io.Reader;

/**
 * Text with one more line behind its end. Whoever takes the text apart and does not meet that line by itself is within
 * quotes that were never closed.
 */
final class Ended extends FilterReader {
    /** A noncharacter, which no text holds. */
    static final String LINE = "\uFFFFend";

    private boolean afterLineEnd = true;
    private int left = -1;
    private String behind = "";

    Ended(Reader text) {
        super(text);
    }

    @Override
    public int read() throws IOException {
        char[] one = new char[1];
        return read(one, 0, 1) < 0 ? -1 : one[0];
    }

    @Override
    public int read(char[] into, int from, int length) throws IOException {
        if (left < 0) {
            int read = super.read(into, from, length);
            if (read > 0) {
                afterLineEnd = into[from + read - 1] == '\n' || into[from + read - 1] == '\r';
            }
            if (read >= 0) {
                return read;
            }
            behind = (afterLineEnd ? "" : "\n") + LINE;
            left = behind.length();
        }
        if (left == 0) {
            return -1;
        }
        int now = Math.min(left, length);
        behind.getChars(behind.length() - left, behind.length() - left + now, into, from);
        left -= now;
        return now;
    }
}
