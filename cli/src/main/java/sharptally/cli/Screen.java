package sharptally.cli;

import java.io.PrintStream;
import java.util.List;
import sharptally.report.text.Style;

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
    static Screen ofProcess() {
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

    private static PrintStream utf8(PrintStream stream) {
        return new PrintStream(stream, true, java.nio.charset.StandardCharsets.UTF_8);
    }

    public void print(List<String> lines) {
        StringBuilder text = new StringBuilder();
        lines.forEach(line -> text.append(line).append('\n'));
        out.print(text);
        out.flush();
    }

    /** Whether results go to a terminal. */
    boolean terminal() {
        return System.getProperty("sharptally.terminals", "").contains("1");
    }

    /** The same, without progress. */
    Screen withoutTerminal() {
        return new Screen(out, err, style, columns, false);
    }

    public void say(String message) {
        err.println(message);
    }
}
