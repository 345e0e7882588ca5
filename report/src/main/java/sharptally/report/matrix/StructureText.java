package sharptally.report.matrix;

import java.util.ArrayList;
import java.util.List;
import sharptally.formats.run.RunSummary;
import sharptally.report.text.Figures;
import sharptally.report.text.Style;
import sharptally.report.text.Style.Meaning;
import sharptally.report.text.SurveyText;
import sharptally.report.text.TextWidth;

/** How two databases declare their tables, side by side. */
public final class StructureText {
    private StructureText() {}

    /**
     * @param differences what is declared otherwise beside columns
     * @param shapes how columns differ, a sentence each
     * @param untold what is not told, a sentence each
     */
    public static List<String> lines(
            List<RunSummary.DeclaredOtherwise> differences,
            List<String> shapes,
            List<String> untold,
            Style style,
            int columns) {
        List<String> lines = new ArrayList<>(SurveyText.declared(differences, style, columns));
        section(lines, "columns", shapes, style, columns);
        section(lines, "not told", untold, style, columns);
        return lines;
    }

    private static void section(List<String> lines, String heading, List<String> all, Style style, int columns) {
        if (!all.isEmpty()) {
            lines.add(style.paint(heading, Meaning.HEADING));
            all.forEach(line -> lines.addAll(TextWidth.note(line, columns)));
            lines.add("");
        }
    }

    /** How much differs, in a sentence. */
    public static String verdict(int tables, int differences, int shapes, int lone) {
        return Figures.count(tables, "table") + " of both sides looked at: "
                + (differences + shapes + lone == 0
                        ? "all that both tell of is declared alike"
                        : Figures.count(differences, "declaration") + " and " + Figures.count(shapes, "column")
                                + " differ, " + Figures.count(lone, "table") + " of one side alone");
    }
}
