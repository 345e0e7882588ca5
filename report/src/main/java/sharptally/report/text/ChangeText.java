package sharptally.report.text;

import java.util.List;
import sharptally.core.script.ChangeCounts;
import sharptally.report.text.Style.Meaning;
import sharptally.report.text.TextTable.Align;
import sharptally.report.text.TextTable.Cell;

/** What a script or apply is to change, as lines for a terminal. */
public final class ChangeText {
    private ChangeText() {}

    public static List<String> lines(ChangeCounts counts, Style style) {
        if (counts.tables().isEmpty()) {
            return List.of("nothing to change, by what this run last saw of its rows");
        }
        TextTable table = new TextTable(Align.LEFT, Align.RIGHT, Align.RIGHT, Align.RIGHT);
        table.heading("table", "inserts", "updates", "deletes");
        counts.tables()
                .forEach((name, c) -> table.row(List.of(
                        Cell.of(TextWidth.harmless(name)),
                        number(c.inserts(), Meaning.MISSING),
                        number(c.updates(), Meaning.CHANGED),
                        number(c.deletes(), Meaning.EXTRA))));
        return table.lines(style);
    }

    private static Cell number(long number, Meaning meaning) {
        return number == 0 ? new Cell("0", Meaning.QUIET) : new Cell(Figures.count(number), meaning);
    }
}
