package sharptally.report.text;

import java.util.ArrayList;
import java.util.List;
import sharptally.core.compare.method.MethodDecision;
import sharptally.core.compare.method.MethodEstimate;
import sharptally.report.text.Style.Meaning;
import sharptally.report.text.TextTable.Align;
import sharptally.report.text.TextTable.Cell;

/** Why a method was chosen, as lines for a terminal. */
public final class ChoiceText {
    private ChoiceText() {}

    /**
     * @param width of the screen
     */
    public static List<String> lines(String match, MethodDecision choice, Style style, int width) {
        List<String> lines = new ArrayList<>();
        String rows = choice.rows() < 0 ? "rows unknown" : "about " + Figures.count(choice.rows(), "row");
        lines.add(style.paint(TextWidth.harmless(match), Meaning.HEADING) + "  " + rows + "; method " + choice.method()
                + ": " + ObstacleText.of(choice.why()));
        TextTable table = new TextTable(Align.LEFT, Align.RIGHT, Align.RIGHT, Align.RIGHT, Align.LEFT);
        table.heading("  method", "rows/s", "to read", "time", "how, or why not");
        for (MethodEstimate candidate : choice.candidates()) {
            boolean timed = candidate.rowsPerSecond() > 0;
            boolean chosen = candidate.method() == choice.method();
            table.row(List.of(
                    new Cell((chosen ? "* " : "  ") + candidate.method(), chosen ? Meaning.GOOD : Meaning.NONE),
                    Cell.of(timed ? Figures.count(Math.round(candidate.rowsPerSecond())) : ""),
                    Cell.of(timed ? bytes(candidate.bytes()) : ""),
                    Cell.of(timed ? Figures.seconds(candidate.seconds()) : ""),
                    new Cell(TextWidth.harmless(ObstacleText.of(candidate.how())), Meaning.QUIET)));
        }
        lines.addAll(table.lines(style, width));
        lines.add("");
        return lines;
    }

    private static String bytes(double bytes) {
        return bytes < 1e6
                ? Figures.count(Math.round(bytes / 1e3)) + " kB"
                : Figures.count(Math.round(bytes / 1e6)) + " MB";
    }
}
