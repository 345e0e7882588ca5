package sharptally.report.text;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.List;
import java.util.stream.IntStream;
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
    private static final int LEAST_FOLDED = 20;

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

    /**
     * The lines as they fit the screen: while they are wider, columns that can be done without are left out, and then the
     * last column takes several lines.
     *
     * @param width of the screen
     * @param dispensable places of columns, that which is left out first first
     */
    public List<String> lines(Style style, int width, int... dispensable) {
        List<Integer> kept =
                new ArrayList<>(IntStream.range(0, aligns.size()).boxed().toList());
        TextTable table = this;
        for (int i = 0; i < dispensable.length && !table.fits(width); i++) {
            kept.remove((Integer) dispensable[i]);
            table = only(kept);
        }
        return table.fits(width) ? table.lines(style) : table.folded(width).lines(style);
    }

    /** The same with the text of its last column in several lines, where there is room for them. */
    private TextTable folded(int width) {
        int last = aligns.size() - 1;
        int before = only(IntStream.range(0, last).boxed().toList()).width() + GAP.length();
        if (width - before < LEAST_FOLDED || width >= TextWidth.WHOLE_FROM) {
            return this;
        }
        TextTable table = new TextTable(aligns.toArray(new Align[0]));
        for (List<Cell> row : rows) {
            List<Cell> cells = new ArrayList<>(row.subList(0, last));
            for (String part : TextWidth.folded(row.get(last).text(), width - before)) {
                cells.add(new Cell(part, row.get(last).meaning()));
                table.row(List.copyOf(cells));
                cells = new ArrayList<>(Collections.nCopies(last, Cell.of("")));
            }
        }
        return table;
    }

    private TextTable only(List<Integer> kept) {
        TextTable table = new TextTable(kept.stream().map(aligns::get).toArray(Align[]::new));
        rows.forEach(row -> table.row(kept.stream().map(row::get).toList()));
        return table;
    }

    /** Whether no line is wider than the screen. */
    public boolean fits(int screen) {
        return width() <= screen;
    }

    /** Of the widest line. */
    private int width() {
        return lines(Style.PLAIN).stream().mapToInt(TextWidth::of).max().orElse(0);
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
