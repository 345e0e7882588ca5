package sharptally.core.types;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/**
 * JSON (RFC 8259) brought to one form: no blanks, members by name (all of a repeated name, in their order), numbers as plain
 * decimals without trailing zeros, and strings with as few escapes as can be. Two texts mean the same when their forms
 * are equal.
 */
public final class JsonText {
    private static final int MAX_DEPTH = 1_000;
    private static final int MAX_EXPONENT = 10_000;

    private final String text;
    private int place;

    private JsonText(String text) {
        this.text = text;
    }

    /** Empty for text that is not JSON, or nested too deep. */
    public static Optional<String> canonical(String text) {
        JsonText parser = new JsonText(text);
        try {
            String form = parser.value(0);
            parser.blanks();
            return parser.place == text.length() ? Optional.of(form) : Optional.empty();
        } catch (NotJson e) {
            return Optional.empty();
        }
    }

    private static final class NotJson extends RuntimeException {
        NotJson() {
            super("not JSON", null, false, false);
        }
    }

    private void blanks() {
        while (place < text.length() && " \t\n\r".indexOf(text.charAt(place)) >= 0) {
            place++;
        }
    }

    private char peek() {
        blanks();
        if (place >= text.length()) {
            throw new NotJson();
        }
        return text.charAt(place);
    }

    private boolean take(char wanted) {
        if (peek() != wanted) {
            return false;
        }
        place++;
        return true;
    }

    private void expect(char wanted) {
        if (!take(wanted)) {
            throw new NotJson();
        }
    }

    private String value(int depth) {
        if (depth > MAX_DEPTH) {
            throw new NotJson();
        }
        return switch (peek()) {
            case '{' -> object(depth);
            case '[' -> array(depth);
            case '"' -> quoted(string());
            case 't' -> word("true");
            case 'f' -> word("false");
            case 'n' -> word("null");
            default -> number();
        };
    }

    private String word(String word) {
        if (!text.startsWith(word, place)) {
            throw new NotJson();
        }
        place += word.length();
        return word;
    }

    private String object(int depth) {
        expect('{');
        Map<String, List<String>> members = new TreeMap<>();
        if (!take('}')) {
            do {
                if (peek() != '"') {
                    throw new NotJson();
                }
                String name = string();
                expect(':');
                members.computeIfAbsent(name, n -> new ArrayList<>()).add(value(depth + 1));
            } while (take(','));
            expect('}');
        }
        StringBuilder out = new StringBuilder("{");
        members.forEach((name, values) -> values.forEach(value -> out.append(out.length() > 1 ? "," : "")
                .append(quoted(name))
                .append(':')
                .append(value)));
        return out.append('}').toString();
    }

    private String array(int depth) {
        expect('[');
        StringBuilder out = new StringBuilder("[");
        if (!take(']')) {
            do {
                out.append(out.length() > 1 ? "," : "").append(value(depth + 1));
            } while (take(','));
            expect(']');
        }
        return out.append(']').toString();
    }

    private String number() {
        int start = place;
        while (place < text.length() && "+-.eE0123456789".indexOf(text.charAt(place)) >= 0) {
            place++;
        }
        String digits = text.substring(start, place);
        if (!digits.matches("-?(0|[1-9]\\d*)(\\.\\d+)?([eE][+-]?\\d{1,9})?")) {
            throw new NotJson();
        }
        BigDecimal number = new BigDecimal(digits);
        if (number.signum() == 0) {
            return "0";
        }
        number = number.stripTrailingZeros();
        return Math.abs((long) number.scale()) > MAX_EXPONENT ? number.toString() : number.toPlainString();
    }

    private String string() {
        expect('"');
        StringBuilder out = new StringBuilder();
        while (place < text.length()) {
            char c = text.charAt(place++);
            if (c == '"') {
                return out.toString();
            }
            if (c < ' ') {
                throw new NotJson();
            }
            out.append(c == '\\' ? escaped() : c);
        }
        throw new NotJson();
    }

    private char escaped() {
        if (place >= text.length()) {
            throw new NotJson();
        }
        char c = text.charAt(place++);
        switch (c) {
            case '"', '\\', '/':
                return c;
            case 'b':
                return '\b';
            case 'f':
                return '\f';
            case 'n':
                return '\n';
            case 'r':
                return '\r';
            case 't':
                return '\t';
            case 'u':
                if (place + 4 > text.length()
                        || !text.substring(place, place + 4).matches("[0-9a-fA-F]{4}")) {
                    throw new NotJson();
                }
                place += 4;
                return (char) Integer.parseInt(text.substring(place - 4, place), 16);
            default:
                throw new NotJson();
        }
    }

    private static String quoted(String string) {
        StringBuilder out = new StringBuilder("\"");
        for (int i = 0; i < string.length(); i++) {
            char c = string.charAt(i);
            if (c == '"' || c == '\\') {
                out.append('\\').append(c);
            } else if (c < ' ') {
                out.append(String.format(Locale.ROOT, "\\u%04x", (int) c));
            } else {
                out.append(c);
            }
        }
        return out.append('"').toString();
    }
}
