package sharptally.report.findings;

import java.util.ArrayList;
import java.util.List;
import sharptally.report.findings.ColumnCauses.Cause;
import sharptally.report.text.Figures;
import sharptally.report.text.Style;
import sharptally.report.text.Style.Meaning;
import sharptally.report.text.TextTable;
import sharptally.report.text.TextTable.Align;
import sharptally.report.text.TextTable.Cell;
import sharptally.report.text.TextWidth;

/** The columns in which rows differ, with likely causes, as lines for a terminal. */
public final class ColumnText {
    private static final int MAX_NAME = 40;
    private static final int MAX_KEY = 20;
    private static final int MIN_VALUE = 12;
    private static final int CAUSES_SHOWN = 3;
    private static final int WIDTH_OF_COUNTS = 20;
    private static final int WIDTH_OF_CAUSES = 34;

    private ColumnText() {}

    /**
     * @param width of the terminal
     */
    public static List<String> lines(List<ColumnCauses> columns, Style style, int width) {
        TextTable table =
                new TextTable(Align.LEFT, Align.RIGHT, Align.RIGHT, Align.LEFT, Align.LEFT, Align.LEFT, Align.LEFT);
        table.heading("column", "rows", "of changed", "likely cause", "first key", "source", "target");
        int names = columns.stream()
                .mapToInt(c -> Math.min(MAX_NAME, TextWidth.of(name(c))))
                .max()
                .orElse(0);
        int value = Math.max(MIN_VALUE, (width - names - WIDTH_OF_CAUSES - MAX_KEY - 32) / 2);
        for (ColumnCauses column : columns) {
            List<String> causes = causes(column);
            for (int i = 0; i < causes.size(); i++) {
                boolean first = i == 0;
                table.row(List.of(
                        Cell.of(first ? TextWidth.cut(name(column), MAX_NAME) : ""),
                        first ? new Cell(Figures.count(column.rows()), Meaning.CHANGED) : Cell.of(""),
                        Cell.of(first ? Figures.share(column.rows(), column.changed()) : ""),
                        Cell.of(causes.get(i)),
                        new Cell(first ? TextWidth.cut(TextWidth.harmless(column.key()), MAX_KEY) : "", Meaning.QUIET),
                        Cell.of(first ? TextWidth.cut(column.source(), value) : ""),
                        Cell.of(first ? TextWidth.cut(column.target(), value) : "")));
            }
        }
        return table.fits(width) ? table.lines(style) : stacked(columns, style, width, names);
    }

    /** For a narrow screen: the example of a column below it. */
    private static List<String> stacked(List<ColumnCauses> columns, Style style, int width, int names) {
        List<String> lines = new ArrayList<>();
        TextTable table = new TextTable(Align.LEFT, Align.RIGHT, Align.RIGHT, Align.LEFT);
        table.heading("column", "rows", "of changed", "likely cause");
        for (ColumnCauses column : columns) {
            table.row(List.of(
                    Cell.of(TextWidth.cut(name(column), MAX_NAME)),
                    new Cell(Figures.count(column.rows()), Meaning.CHANGED),
                    Cell.of(Figures.share(column.rows(), column.changed())),
                    Cell.of(TextWidth.cut(
                            causes(column).get(0), Math.max(MIN_VALUE, width - names - WIDTH_OF_COUNTS)))));
        }
        List<String> heads = table.lines(style);
        lines.add(heads.get(0));
        for (int i = 0; i < columns.size(); i++) {
            ColumnCauses column = columns.get(i);
            lines.add(heads.get(i + 1));
            causes(column).stream().skip(1).forEach(cause -> lines.add("    or " + cause));
            String key = TextWidth.cut(TextWidth.harmless(column.key()), MAX_KEY);
            int value = Math.max(MIN_VALUE, (width - TextWidth.of(key) - 10) / 2);
            lines.add("    " + style.paint(key, Meaning.QUIET) + "  " + TextWidth.cut(column.source(), value)
                    + " \u2192 " + TextWidth.cut(column.target(), value));
        }
        return lines;
    }

    private static String name(ColumnCauses column) {
        return TextWidth.harmless(column.table() + "." + column.column());
    }

    /** A cause a line with its share; a dash where none is known. */
    static List<String> causes(ColumnCauses column) {
        List<String> lines = new ArrayList<>();
        for (Cause cause : column.causes()
                .subList(0, Math.min(CAUSES_SHOWN, column.causes().size()))) {
            lines.add(cause.shown(column.rows()));
        }
        return lines.isEmpty() ? List.of("-") : lines;
    }
}
