package sharptally.report.findings;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import sharptally.core.common.Common;
import sharptally.core.common.CommonRows;
import sharptally.report.text.Figures;
import sharptally.report.text.Style;
import sharptally.report.text.Style.Meaning;
import sharptally.report.text.TextTable;
import sharptally.report.text.TextTable.Align;
import sharptally.report.text.TextTable.Cell;
import sharptally.report.text.TextWidth;

/** What rows that differ have in common, as lines for a terminal. */
public final class CommonText {
    private static final int WIDTH_OF_FIGURES = 44;
    private static final int MIN_WORDS = 24;

    /** An error of a share that is taken from a sample is less than so many of its deviations, nearly always. */
    private static final double DEVIATIONS = 2;

    private CommonText() {}

    /**
     * @param width of the terminal
     */
    public static List<String> lines(List<CommonRows> groups, Style style, int width) {
        List<String> lines = new ArrayList<>();
        for (CommonRows group : groups) {
            if (!lines.isEmpty()) {
                lines.add("");
            }
            lines.add(style.paint(title(group), Meaning.HEADING));
            if (group.common().isEmpty()) {
                lines.add("  nothing in common that chance would not explain");
                continue;
            }
            TextTable table = new TextTable(Align.RIGHT, Align.LEFT, Align.RIGHT, Align.RIGHT);
            table.heading("", "they have in common", "of these rows", "of the same rows");
            for (int i = 0; i < group.common().size(); i++) {
                Common common = group.common().get(i);
                table.row(List.of(
                        Cell.of(i == 0 ? " " : "or"),
                        new Cell(
                                TextWidth.cut(
                                        TextWidth.harmless(common.words()),
                                        Math.max(MIN_WORDS, width - WIDTH_OF_FIGURES)),
                                Meaning.CHANGED),
                        Cell.of(of(common.differing(), common.ofDiffering(), common.ofDiffering() < group.rows())),
                        Cell.of(of(common.same(), common.ofSame(), group.sampled()))));
            }
            lines.addAll(table.lines(style));
        }
        return lines;
    }

    /** The same as a template reads it. */
    public static List<Map<String, Object>> model(List<CommonRows> groups) {
        return groups.stream()
                .filter(group -> !group.common().isEmpty())
                .map(group -> Map.of(
                        "title",
                        title(group),
                        "common",
                        group.common().stream()
                                .map(common -> Map.of(
                                        "words", TextWidth.harmless(common.words()),
                                        "differing",
                                                of(
                                                        common.differing(),
                                                        common.ofDiffering(),
                                                        common.ofDiffering() < group.rows()),
                                        "same", of(common.same(), common.ofSame(), group.sampled())))
                                .toList()))
                .toList();
    }

    private static String title(CommonRows group) {
        return group.match() + ": " + Figures.count(group.rows(), "row") + " "
                + group.kind().word()
                + group.column().map(c -> " in " + TextWidth.harmless(c)).orElse("");
    }

    /** A share, with its error where it is that of a sample. */
    static String of(long rows, long all, boolean sample) {
        if (!sample) {
            return Figures.count(rows) + " of " + Figures.count(all);
        }
        if (rows == 0) {
            return String.format(Locale.ROOT, "under %.2f %%", 300.0 / all);
        }
        double share = (double) rows / all;
        double error = DEVIATIONS * Math.sqrt(Math.max(share * (1 - share), 1.0 / all) / all);
        return String.format(Locale.ROOT, "%.1f %% ± %.1f", 100 * share, 100 * error);
    }
}
