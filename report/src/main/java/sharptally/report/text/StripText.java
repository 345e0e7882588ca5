package sharptally.report.text;

import java.util.List;
import java.util.stream.Collectors;
import sharptally.core.range.DifferenceHistogram;
import sharptally.core.types.Value;
import sharptally.report.text.Style.Meaning;
import sharptally.report.text.TextTable.Cell;

/** Where in the key range rows differ, as one line of cells: the higher the mark, the larger the share that differs. */
final class StripText {
    /** Place of the last cell of a row, which tells how many are hit. */
    static final int HIT = 3;

    private static final int CELLS = 60;
    private static final int LEAST_CELLS = 20;
    private static final int WIDTH_OF_NAMES = 30;
    private static final int MAX_KEY_WIDTH = 24;
    private static final int LEAST_KEY_WIDTH = 10;
    /** From which share on a cell has which mark; a cell in which nothing differs has a dot. */
    private static final double[] SHARES = {0, 0.001, 0.01, 0.05, 0.15, 0.4, 0.8};

    private static final String MARKS = "\u2581\u2582\u2583\u2584\u2585\u2586\u2588";

    private StripText() {}

    /**
     * For a table: the key at which the first cell begins, the cells, the key of the last one, how many are hit.
     *
     * @param width of the screen, by which cells are fewer
     */
    static List<Cell> row(List<DifferenceHistogram.Cell> damage, int width) {
        List<DifferenceHistogram.Cell> cells = DifferenceHistogram.drawn(
                damage, Math.max(LEAST_CELLS, Math.min(CELLS, width - 2 * keyWidth(width) - WIDTH_OF_NAMES)));
        StringBuilder strip = new StringBuilder();
        cells.forEach(cell -> strip.append(cell.differing() == 0 ? '\u00b7' : mark(cell)));
        // Told of the same cells whatever the width, as are the ends.
        List<DifferenceHistogram.Cell> told = DifferenceHistogram.drawn(damage, CELLS);
        long hit = told.stream().filter(c -> c.differing() > 0).count();
        return List.of(
                Cell.of(shown(damage.get(0).from(), width)),
                new Cell(strip.toString(), Meaning.CHANGED),
                Cell.of(shown(DifferenceHistogram.last(damage), width)),
                new Cell(
                        hit + " of " + told.size() + " key ranges " + (hit == 1 ? "differs" : "differ"),
                        Meaning.QUIET));
    }

    private static char mark(DifferenceHistogram.Cell cell) {
        double share = (double) cell.differing() / cell.rows();
        int mark = 0;
        while (mark + 1 < SHARES.length && share >= SHARES[mark + 1]) {
            mark++;
        }
        return MARKS.charAt(mark);
    }

    /** As ranges of keys are written; empty for the start. */
    static String key(List<Value> key) {
        return key.stream().map(Value::toString).collect(Collectors.joining(","));
    }

    private static String shown(List<Value> key, int width) {
        String text = key(key);
        return TextWidth.cut(TextWidth.harmless(text.isEmpty() ? "start" : text), keyWidth(width));
    }

    private static int keyWidth(int width) {
        return Math.min(MAX_KEY_WIDTH, Math.max(LEAST_KEY_WIDTH, width / 8));
    }
}
