package sharptally.report.text;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import sharptally.report.text.Style.Meaning;

/** Rows of cells, aligned in columns by the width that the text takes on a terminal. */
public final class TextTable {
    /** On which side a column's text is filled up. */
    public enum Align {
        LEFT,
        RIGHT
    }

    /** One cell and what it means. */
    public record Cell(String text, Meaning meaning) {
        public static Cell of(String text) {
            return new Cell(text, Meaning.NONE);
        }
    }

    private static final String GAP = "  ";

    private final List<Align> aligns;
    private final List<List<Cell>> rows = new ArrayList<>();

    public TextTable(Align... aligns) {
        this.aligns = Arrays.asList(aligns);
    }

    public TextTable heading(String... names) {
        return row(Arrays.stream(names)
                .map(name -> new Cell(name, Meaning.HEADING))
                .toList());
    }

    public TextTable row(List<Cell> cells) {
        if (cells.size() != aligns.size()) {
            throw new IllegalStateException(cells.size() + " cells in a table of " + aligns.size() + " columns");
        }
        rows.add(cells);
        return this;
    }

    /** The lines, without trailing blanks. */
    public List<String> lines(Style style) {
        int[] widths = new int[aligns.size()];
        rows.forEach(row -> {
            for (int i = 0; i < widths.length; i++) {
                widths[i] = Math.max(widths[i], TextWidth.of(row.get(i).text()));
            }
        });
        return rows.stream().map(row -> line(row, widths, style)).toList();
    }

    private String line(List<Cell> row, int[] widths, Style style) {
        StringBuilder line = new StringBuilder();
        for (int i = 0; i < widths.length; i++) {
            String text = row.get(i).text();
            String fill = " ".repeat(widths[i] - TextWidth.of(text));
            String painted = style.paint(text, row.get(i).meaning());
            line.append(i == 0 ? "" : GAP).append(aligns.get(i) == Align.LEFT ? painted + fill : fill + painted);
        }
        return line.toString().stripTrailing();
    }
}
