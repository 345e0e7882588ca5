package sharptally.report.text;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.stream.IntStream;
import org.jline.utils.WCWidth;

/** Columns that text takes on a terminal: wide letters take two, combining ones none. */
public final class TextWidth {
    /** From this width on, which pipes are taken for, lines are left whole, so that they can be searched. */
    static final int WHOLE_FROM = 160;

    private static final int LEAST_NOTE = 40;
    private static final int INDENT = 4;

    private TextWidth() {}

    public static int of(String text) {
        return text.codePoints().map(TextWidth::of).sum();
    }

    private static int of(int codePoint) {
        return Math.max(0, WCWidth.wcwidth(codePoint));
    }

    /** The text, its end replaced by an ellipsis where it is wider than {@code columns}. */
    public static String cut(String text, int columns) {
        if (of(text) <= columns) {
            return text;
        }
        StringBuilder kept = new StringBuilder();
        int width = 0;
        for (int c : text.codePoints().toArray()) {
            width += of(c);
            if (width > columns - 1) {
                break;
            }
            kept.appendCodePoint(c);
        }
        return kept.append('…').toString();
    }

    /** The text in lines of so many columns, broken between words where that can be. */
    public static List<String> folded(String text, int columns) {
        List<String> lines = new ArrayList<>();
        String rest = text;
        while (of(rest) > columns) {
            int end = 0;
            int space = -1;
            for (int width = 0; end < rest.length(); end = rest.offsetByCodePoints(end, 1)) {
                width += of(rest.codePointAt(end));
                if (width > columns) {
                    break;
                }
                space = rest.charAt(end) == ' ' ? end : space;
            }
            int at = space > 0 ? space : Math.max(1, end);
            lines.add(rest.substring(0, at));
            rest = rest.substring(at).stripLeading();
        }
        lines.add(rest);
        return lines;
    }

    /** A note below a heading, its later lines set in further. */
    public static List<String> note(String text, int columns) {
        List<String> lines = columns < WHOLE_FROM
                ? folded(harmless(text), Math.max(LEAST_NOTE, columns - INDENT))
                : List.of(harmless(text));
        return IntStream.range(0, lines.size())
                .mapToObj(i -> " ".repeat(i == 0 ? INDENT / 2 : INDENT) + lines.get(i))
                .toList();
    }

    /** The text with control and direction-changing characters made visible, so that it can't steer a terminal. */
    public static String harmless(String text) {
        StringBuilder out = new StringBuilder(text.length());
        text.codePoints().forEach(c -> {
            switch (c) {
                case '\n' -> out.append("\\n");
                case '\r' -> out.append("\\r");
                case '\t' -> out.append("\\t");
                default -> {
                    int type = Character.getType(c);
                    boolean hidden = type == Character.CONTROL
                            || type == Character.FORMAT
                            || type == Character.SURROGATE
                            || type == Character.LINE_SEPARATOR
                            || type == Character.PARAGRAPH_SEPARATOR;
                    if (hidden) {
                        out.append(String.format(Locale.ROOT, "\\u{%x}", c));
                    } else {
                        out.appendCodePoint(c);
                    }
                }
            }
        });
        return out.toString();
    }
}
