package sharptally.cli.screen;

import java.io.PrintStream;
import java.util.List;
import java.util.stream.Collectors;
import sharptally.core.sql.ShellText;
import sharptally.report.text.Style;
import sharptally.report.text.Style.Meaning;
import sharptally.report.text.TextWidth;

/**
 * Where results and messages go.
 *
 * @param style of results
 * @param columns width of results
 * @param errTerminal whether messages go to a terminal, where progress may be drawn
 */
public record Screen(PrintStream out, PrintStream err, Style style, int columns, boolean errTerminal) {
    /** Columns that are assumed where there is no terminal. */
    private static final int PIPED_COLUMNS = 160;

    /** As the launcher saw it: it tells which streams are terminals, and how wide. */
    public static Screen ofProcess() {
        String terminals = System.getProperty("sharptally.terminals", "");
        boolean out = terminals.contains("1");
        boolean plain = !out || System.getenv("NO_COLOR") != null || "dumb".equals(System.getenv("TERM"));
        int columns = Integer.getInteger("sharptally.columns", PIPED_COLUMNS);
        return new Screen(
                utf8(System.out),
                utf8(System.err),
                plain ? Style.PLAIN : Style.COLOUR,
                out && columns > 0 ? columns : PIPED_COLUMNS,
                terminals.contains("2"));
    }

    /** Of streams none of which is a terminal. */
    public static Screen of(PrintStream out, PrintStream err) {
        return new Screen(out, err, Style.PLAIN, PIPED_COLUMNS, false);
    }

    private static PrintStream utf8(PrintStream stream) {
        return new PrintStream(stream, true, java.nio.charset.StandardCharsets.UTF_8);
    }

    public void print(List<String> lines) {
        StringBuilder text = new StringBuilder();
        lines.forEach(line -> text.append(line).append('\n'));
        out.print(text);
        out.flush();
    }

    /**
     * Proposes what to do next: a command of this program, which can be pasted as it stands.
     *
     * @param why what it does
     * @param words of the command, behind the program's name; they are quoted here
     */
    public void next(String why, List<String> words) {
        print(List.of("", style.paint("next", Meaning.QUIET) + "  " + command(why, words)));
    }

    /** A command of this program as it is proposed, with what it does. */
    public String command(String why, List<String> words) {
        String command = "sharp-tally " + ShellText.command(words.toArray(new String[0]));
        return style.paint(command, Meaning.COMMAND) + (why.isEmpty() ? "" : style.paint("    " + why, Meaning.QUIET));
    }

    /** Whether results go to a terminal. */
    public boolean terminal() {
        return System.getProperty("sharptally.terminals", "").contains("1");
    }

    /** A line that says what is done just now, on a terminal, until it is closed. */
    public Status status(String what) {
        return new Status(err, errTerminal, what);
    }

    /** A line on a terminal that goes when something else is to stand there. */
    public static final class Status implements AutoCloseable {
        private final PrintStream err;
        private boolean shown;

        private Status(PrintStream err, boolean terminal, String what) {
            this.err = err;
            this.shown = terminal;
            if (terminal) {
                err.print("\r" + what + " …");
                err.flush();
            }
        }

        /** Takes the line away; again does nothing. */
        @Override
        public synchronized void close() {
            if (shown) {
                shown = false;
                err.print("\r\u001b[K");
                err.flush();
            }
        }
    }

    /** The same, without progress. */
    public Screen withoutTerminal() {
        return new Screen(out, err, style, columns, false);
    }

    /** The same, printing no result. */
    public Screen withoutResult() {
        return new Screen(new PrintStream(PrintStream.nullOutputStream()), err, style, columns, errTerminal);
    }

    /** A message of one or several lines, in which nothing can steer the terminal. */
    public void say(String message) {
        err.println(message.lines().map(TextWidth::harmless).collect(Collectors.joining("\n")));
    }
}
