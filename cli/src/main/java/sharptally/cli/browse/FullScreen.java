package sharptally.cli.browse;

import java.io.IOException;
import java.io.PrintWriter;
import java.util.List;
import org.jline.terminal.Attributes;
import org.jline.terminal.Size;
import org.jline.terminal.Terminal;
import org.jline.terminal.TerminalBuilder;
import org.jline.utils.NonBlockingReader;

/** Draws a view on the whole terminal and hands it the keys that are pressed. */
public final class FullScreen {
    private static final long SEQUENCE_MILLIS = 200;
    private static final int ESCAPE = 27;
    private static final int LEAST_COLUMNS = 20;
    private static final int LEAST_LINES = 6;

    private FullScreen() {}

    /**
     * Returns when the user has seen enough.
     *
     * @throws IOException when the terminal can't be used
     */
    public static void show(View view) throws IOException {
        try (Terminal terminal =
                TerminalBuilder.builder().system(true).dumb(false).build()) {
            Attributes before = terminal.enterRawMode();
            PrintWriter out = terminal.writer();
            out.print("\u001b[?1049h\u001b[?25l");
            try {
                boolean more = true;
                while (more) {
                    draw(terminal, view);
                    more = view.press(key(terminal.reader()));
                }
            } finally {
                out.print("\u001b[?25h\u001b[?1049l");
                out.flush();
                terminal.setAttributes(before);
            }
        }
    }

    private static void draw(Terminal terminal, View view) {
        Size size = terminal.getSize();
        List<String> lines =
                view.lines(Math.max(LEAST_COLUMNS, size.getColumns()), Math.max(LEAST_LINES, size.getRows()));
        PrintWriter out = terminal.writer();
        out.print("\u001b[H");
        out.print(String.join("\u001b[K\r\n", lines));
        out.print("\u001b[K\u001b[J");
        out.flush();
    }

    private static Key key(NonBlockingReader in) throws IOException {
        int c = in.read();
        return switch (c) {
            case -1, 3, 4 -> Key.of(Key.Kind.GONE);
            case '\r', '\n' -> Key.of(Key.Kind.ENTER);
            case 8, 127 -> Key.of(Key.Kind.ERASE);
            case ESCAPE -> sequence(in);
            default -> c < ' ' ? Key.of(Key.Kind.ERASE) : Key.letter(c);
        };
    }

    /** What follows an escape at once is a key of its own; an escape alone leads back. */
    private static Key sequence(NonBlockingReader in) throws IOException {
        int second = in.peek(SEQUENCE_MILLIS);
        if (second != '[' && second != 'O') {
            return Key.of(Key.Kind.BACK);
        }
        in.read();
        int third = in.read(SEQUENCE_MILLIS);
        if (Character.isDigit(third)) {
            in.read(SEQUENCE_MILLIS);
        }
        return Key.of(
                switch (third) {
                    case 'A' -> Key.Kind.UP;
                    case 'B' -> Key.Kind.DOWN;
                    case 'H', '1', '7' -> Key.Kind.HOME;
                    case 'F', '4', '8' -> Key.Kind.END;
                    case '5' -> Key.Kind.PAGE_UP;
                    case '6' -> Key.Kind.PAGE_DOWN;
                    default -> Key.Kind.BACK;
                });
    }
}
