package sharptally.report.page;

import java.io.FilterWriter;
import java.io.IOException;
import java.io.Writer;

/** Puts a mark in the place of characters that XML 1.0 does not allow, not even escaped. */
final class XmlWriter extends FilterWriter {
    private static final char MARK = '\uFFFD';

    XmlWriter(Writer out) {
        super(out);
    }

    @Override
    public void write(int c) throws IOException {
        boolean allowed = c >= ' ' && c != 0xFFFE && c != 0xFFFF || c == '\t' || c == '\n' || c == '\r';
        super.write(allowed ? c : MARK);
    }

    @Override
    public void write(char[] text, int from, int length) throws IOException {
        for (int i = from; i < from + length; i++) {
            write(text[i]);
        }
    }

    @Override
    public void write(String text, int from, int length) throws IOException {
        write(text.toCharArray(), from, length);
    }
}
