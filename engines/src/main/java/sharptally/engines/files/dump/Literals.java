package sharptally.engines.files.dump;

import java.math.BigInteger;
import java.nio.charset.StandardCharsets;
import java.util.HexFormat;
import java.util.regex.Pattern;
import sharptally.core.rows.Column;

/**
 * Reads the values of an INSERT, which stand one after the other between commas. A text is text, digits of bytes are bytes,
 * and all else is what is written, or, where values say for themselves what they are, a number.
 */
final class Literals {
    private static final Pattern WHOLE = Pattern.compile("-?\\d{1,30}");

    private final DumpBytes in;
    private final Flavour flavour;
    private byte[] bytes = new byte[1 << 10];
    private int length;

    /** What was read. */
    private enum Form {
        NULL,
        TEXT,
        BYTES,
        WORD
    }

    Literals(DumpBytes in, Flavour flavour) {
        this.in = in;
        this.flavour = flavour;
    }

    private void put(int b) {
        if (length == bytes.length) {
            bytes = java.util.Arrays.copyOf(bytes, length * 2);
        }
        bytes[length++] = (byte) b;
    }

    /** Passes over a value. */
    void skip() {
        read();
    }

    /**
     * What values of a column are where they do not say it.
     *
     * @param binary whether text is written for bytes
     * @param bits so many bits are written as bytes; 0 for a column of another type
     */
    record Meant(boolean binary, int bits) {}

    /** Adds a value. */
    void add(Column into, Meant meant) {
        Form form = read();
        if (meant.bits > 0 && (form == Form.TEXT || form == Form.BYTES)) {
            String digits = new BigInteger(1, java.util.Arrays.copyOf(bytes, length)).toString(2);
            into.addText("0".repeat(Math.max(0, meant.bits - digits.length())) + digits);
            return;
        }
        switch (form) {
            case NULL -> into.addNull();
            case BYTES -> into.addBytes(java.util.Arrays.copyOf(bytes, length), 0, length);
            case TEXT -> {
                if (meant.binary) {
                    into.addBytes(java.util.Arrays.copyOf(bytes, length), 0, length);
                } else {
                    into.addText(java.util.Arrays.copyOf(bytes, length), 0, length);
                }
            }
            case WORD -> word(into, new String(bytes, 0, length, StandardCharsets.UTF_8));
        }
    }

    private void word(Column into, String word) {
        if (flavour != Flavour.SQLITE) {
            into.addText(word);
            return;
        }
        try {
            // A whole number beyond 64 bits is a floating one in SQLite, too.
            if (WHOLE.matcher(word).matches() && new BigInteger(word).bitLength() < Long.SIZE) {
                into.addInt(Long.parseLong(word));
            } else {
                into.addDouble(Double.parseDouble(word));
            }
        } catch (NumberFormatException e) {
            throw unknown(word);
        }
    }

    private sharptally.core.fault.ToolException unknown(String word) {
        return in.problem(
                "a value that is none of a plain dump's: " + word.substring(0, Math.min(40, word.length())),
                "only plain dumps can be read");
    }

    private Form read() {
        length = 0;
        while (in.peek() >= 0 && in.peek() <= ' ') {
            in.read();
        }
        int b = in.peek();
        if (b == '\'') {
            quoted(flavour.backslashes);
            return Form.TEXT;
        } else if (in.isNext("E'")) {
            in.read();
            quoted(true);
            return Form.TEXT;
        } else if (in.isNext("X'")) {
            in.read();
            quoted(false);
            digits(0);
            return Form.BYTES;
        } else if (in.isNext("B'")) {
            in.read();
            quoted(false);
            return Form.TEXT;
        } else if (in.isNext("_binary '")) {
            in.skip(8);
            quoted(true);
            return Form.BYTES;
        }
        return unquoted();
    }

    private Form unquoted() {
        while (in.peek() >= 0 && ",()".indexOf(in.peek()) < 0) {
            put(in.read());
        }
        while (length > 0 && bytes[length - 1] <= ' ') {
            length--;
        }
        String word = new String(bytes, 0, length, StandardCharsets.UTF_8);
        if (in.peek() == '(' && flavour == Flavour.SQLITE) {
            return called(word);
        } else if (word.isEmpty() || in.peek() < 0 || in.peek() == '(') {
            throw in.peek() < 0 ? in.cut() : unknown(word);
        } else if (word.equalsIgnoreCase("NULL")) {
            return Form.NULL;
        } else if (word.startsWith("0x")) {
            digits(2);
            return Form.BYTES;
        }
        return Form.WORD;
    }

    /** By which SQLite writes letters that do no good in a script. */
    private Form called(String function) {
        in.read();
        switch (function) {
            case "char" -> {
                String code = text();
                length = 0;
                put(Integer.parseInt(code));
            }
            case "unistr" -> {
                byte[] plain = unescaped(text()).getBytes(StandardCharsets.UTF_8);
                bytes = plain;
                length = plain.length;
            }
            case "replace" -> {
                String text = text();
                in.read();
                String what = text();
                in.read();
                byte[] replaced = text.replace(what, text()).getBytes(StandardCharsets.UTF_8);
                bytes = replaced;
                length = replaced.length;
            }
            default -> throw unknown(function + "(");
        }
        if (in.read() != ')') {
            throw unknown(function + "(");
        }
        return Form.TEXT;
    }

    private String text() {
        read();
        return new String(bytes, 0, length, StandardCharsets.UTF_8);
    }

    private static String unescaped(String text) {
        StringBuilder plain = new StringBuilder();
        for (int i = 0; i < text.length(); i++) {
            if (text.charAt(i) != '\\') {
                plain.append(text.charAt(i));
            } else if (text.startsWith("\\\\", i)) {
                plain.append('\\');
                i++;
            } else {
                int from = text.charAt(i + 1) == 'u' ? i + 2 : i + 1;
                plain.append((char) Integer.parseInt(text.substring(from, from + 4), 16));
                i = from + 3;
            }
        }
        return plain.toString();
    }

    private void digits(int from) {
        String digits = new String(bytes, from, length - from, StandardCharsets.ISO_8859_1);
        try {
            bytes = HexFormat.of().parseHex(digits);
        } catch (IllegalArgumentException e) {
            throw unknown(digits);
        }
        length = bytes.length;
        if (length == 0) {
            bytes = new byte[16];
        }
    }

    private void quoted(boolean backslashes) {
        in.read();
        while (true) {
            int b = in.read();
            if (b < 0) {
                throw in.cut();
            } else if (b == '\\' && backslashes) {
                put(escaped(in.read()));
            } else if (b != '\'') {
                put(b);
            } else if (in.peek() == '\'') {
                in.read();
                put('\'');
            } else {
                return;
            }
        }
    }

    static int escaped(int letter) {
        return switch (letter) {
            case 'b' -> '\b';
            case 'f' -> '\f';
            case 'n' -> '\n';
            case 'r' -> '\r';
            case 't' -> '\t';
            case 'v' -> 0x0B;
            case '0' -> 0;
            case 'Z' -> 0x1A;
            default -> letter;
        };
    }

    /** Adds a field of a line of COPY, up to the tab or line end behind it, which is passed. True where the line goes on. */
    boolean addCopied(java.util.Optional<Column> into) {
        length = 0;
        boolean nothing = false;
        int b = in.read();
        for (; b != '\t' && b != '\n'; b = in.read()) {
            if (b < 0) {
                throw in.cut();
            }
            if (b != '\\') {
                put(b);
            } else if (in.peek() == 'N') {
                in.read();
                nothing = true;
            } else {
                put(escaped(in.read()));
            }
        }
        if (into.isPresent() && nothing) {
            into.get().addNull();
        } else {
            into.ifPresent(column -> column.addText(java.util.Arrays.copyOf(bytes, length), 0, length));
        }
        return b == '\t';
    }
}
