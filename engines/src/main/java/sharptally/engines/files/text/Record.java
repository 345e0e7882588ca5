package sharptally.engines.files.text;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import sharptally.core.rows.Column;

/** The fields of one record, end to end in one array. */
final class Record {
    private char[] chars = new char[1 << 10];
    private int[] ends = new int[32];
    private boolean[] quoted = new boolean[32];
    private byte[] bytes = new byte[1 << 10];
    private int length;
    private int fields;
    private long line;

    void begin(long atLine) {
        length = 0;
        fields = 0;
        line = atLine;
    }

    void append(char c) {
        if (length == chars.length) {
            chars = Arrays.copyOf(chars, length * 2);
        }
        chars[length++] = c;
    }

    /** Ends the field that was appended. */
    void endField(boolean isQuoted) {
        if (fields == ends.length) {
            ends = Arrays.copyOf(ends, fields * 2);
            quoted = Arrays.copyOf(quoted, fields * 2);
        }
        ends[fields] = length;
        quoted[fields++] = isQuoted;
    }

    void addField(char[] from, int start, int count, boolean isQuoted) {
        if (length + count > chars.length) {
            chars = Arrays.copyOf(chars, Math.max(length + count, chars.length * 2));
        }
        System.arraycopy(from, start, chars, length, count);
        length += count;
        endField(isQuoted);
    }

    /** How many line breaks stand in its fields; a carriage return and a line feed are one. */
    int lineBreaks() {
        int breaks = 0;
        for (int field = 0; field < fields; field++) {
            for (int i = start(field); i < ends[field]; i++) {
                boolean both = chars[i] == '\r' && i + 1 < ends[field] && chars[i + 1] == '\n';
                breaks += (chars[i] == '\n' || chars[i] == '\r') && !both ? 1 : 0;
            }
        }
        return breaks;
    }

    int fields() {
        return fields;
    }

    long line() {
        return line;
    }

    private int start(int field) {
        return field == 0 ? 0 : ends[field - 1];
    }

    String text(int field) {
        return new String(chars, start(field), ends[field] - start(field));
    }

    List<String> texts() {
        List<String> all = new ArrayList<>(fields);
        for (int i = 0; i < fields; i++) {
            all.add(text(i));
        }
        return all;
    }

    boolean isQuoted(int field) {
        return quoted[field];
    }

    boolean is(int field, String text) {
        int start = start(field);
        return ends[field] - start == text.length()
                && Arrays.equals(chars, start, ends[field], text.toCharArray(), 0, text.length());
    }

    /** Adds a field to a column as text. */
    void add(int field, Column into) {
        int start = start(field);
        int count = ends[field] - start;
        if (bytes.length < count) {
            bytes = new byte[count * 2];
        }
        for (int i = 0; i < count; i++) {
            char c = chars[start + i];
            if (c >= 0x80) {
                into.addText(text(field));
                return;
            }
            bytes[i] = (byte) c;
        }
        // Large values are not copied by a column, so that they can't stand in what is used again.
        into.addText(count > 1 << 16 ? Arrays.copyOf(bytes, count) : bytes, 0, count);
    }
}
