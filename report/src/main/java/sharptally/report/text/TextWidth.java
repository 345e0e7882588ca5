package sharptally.report.text;

import org.jline.utils.WCWidth;

/** Columns that text takes on a terminal: wide letters take two, combining ones none. */
public final class TextWidth {
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
                        out.append("\\u{%x}".formatted(c));
                    } else {
                        out.appendCodePoint(c);
                    }
                }
            }
        });
        return out.toString();
    }
}
