package sharptally.report.text;

import java.util.ArrayList;
import java.util.List;
import sharptally.report.text.Style.Meaning;
import sharptally.report.text.TextTable.Align;
import sharptally.report.text.TextTable.Cell;

/** What became of differences that were looked at again, as lines for a terminal. */
public final class RecheckText {
    /** One match. */
    public record Line(String match, long noLongerDifferent, long still, long differentInAnotherWay) {}

    private RecheckText() {}

    public static List<String> lines(List<Line> matches, Style style) {
        if (matches.isEmpty()) {
            return List.of("there is no difference to look at again");
        }
        TextTable table = new TextTable(Align.LEFT, Align.RIGHT, Align.RIGHT, Align.RIGHT);
        table.heading("table", "no longer different", "still different", "different in another way");
        matches.forEach(m -> table.row(List.of(
                Cell.of(TextWidth.harmless(m.match())),
                number(m.noLongerDifferent(), Meaning.GOOD),
                number(m.still(), Meaning.CHANGED),
                number(m.differentInAnotherWay(), Meaning.CHANGED))));
        List<String> lines = new ArrayList<>(table.lines(style));
        long left = matches.stream()
                .mapToLong(m -> m.still() + m.differentInAnotherWay())
                .sum();
        long noLongerDifferent =
                matches.stream().mapToLong(Line::noLongerDifferent).sum();
        lines.add("");
        lines.add(
                left == 0
                        ? style.paint("no longer different", Meaning.GOOD) + ": all of "
                                + Figures.count(noLongerDifferent, "key")
                        : style.paint("different", Meaning.CHANGED) + ": " + Figures.count(left) + " of "
                                + Figures.count(left + noLongerDifferent, "key")
                                + (left == 1 ? " still differs" : " still differ"));
        return lines;
    }

    private static Cell number(long number, Meaning meaning) {
        return number == 0 ? new Cell("0", Meaning.QUIET) : new Cell(Figures.count(number), meaning);
    }
}
