package sharptally.core.range;

import java.util.ArrayList;
import java.util.List;
import java.util.function.Supplier;
import sharptally.core.types.Value;

/**
 * Where in the key range rows differ: rows in key order, counted in cells of about equal size. Used by one thread.
 *
 * <p>Idea: at most {@link #MAX_CELLS} cells are kept; when all are full, neighbours are put together and each cell from
 * then on takes twice as many rows. So memory is bounded whatever the number of rows, and no cell ever holds more than
 * twice its fair share, but for ranges that are told as a whole.
 */
public final class DifferenceHistogram {
    private static final int MAX_CELLS = 256;

    /**
     * Some consecutive rows of the merged sides.
     *
     * @param from key of the first of them
     * @param rows how many keys, of either side
     * @param differing how many of them differ
     */
    public record Cell(List<Value> from, long rows, long differing) {
        public Cell {
            from = List.copyOf(from);
        }

        private Cell plus(Cell next) {
            return new Cell(from, rows + next.rows, differing + next.differing);
        }
    }

    private List<Cell> full = new ArrayList<>();
    private long rowsPerCell = 1;
    private List<Value> from = List.of();
    private long rows;
    private long differing;

    /** To be called before rows are counted: the key is asked for where a cell begins with it. */
    public void start(Supplier<List<Value>> key) {
        if (rows == 0) {
            from = key.get();
        }
    }

    /** Counts rows that follow those counted before. */
    public void pass(long count, long differ) {
        rows += count;
        differing += differ;
        if (rows >= rowsPerCell) {
            full.add(new Cell(from, rows, differing));
            rows = 0;
            differing = 0;
            if (full.size() == MAX_CELLS) {
                full = pairs(full);
                rowsPerCell *= 2;
            }
        }
    }

    private static List<Cell> pairs(List<Cell> cells) {
        List<Cell> halved = new ArrayList<>();
        for (int i = 0; i < cells.size(); i += 2) {
            halved.add(i + 1 < cells.size() ? cells.get(i).plus(cells.get(i + 1)) : cells.get(i));
        }
        return halved;
    }

    /** Without one of no rows, which is none to be drawn. */
    public static List<Cell> drawn(List<Cell> cells, int atMost) {
        return condensed(cells.stream().filter(c -> c.rows() > 0).toList(), atMost);
    }

    /** All cells so far, in key order. */
    public List<Cell> cells() {
        List<Cell> all = new ArrayList<>(full);
        if (rows > 0) {
            all.add(new Cell(from, rows, differing));
        }
        return all;
    }

    /**
     * The cells from the first key of all rows on; behind them one of no rows that begins with the last key, by which it is
     * told where they end.
     */
    public static List<Cell> between(List<Value> first, List<Cell> cells, List<Value> last) {
        List<Cell> all = new ArrayList<>(cells);
        if (!all.isEmpty()) {
            all.set(0, new Cell(first, all.get(0).rows(), all.get(0).differing()));
        }
        all.add(new Cell(last, 0, 0));
        return all;
    }

    /** The last key that is known of. */
    public static List<Value> last(List<Cell> cells) {
        return cells.get(cells.size() - 1).from();
    }

    /**
     * Cells put together to no more than so many, of about equal numbers of rows.
     *
     * @param cells in key order; one of no rows at their end is left as it is
     */
    public static List<Cell> condensed(List<Cell> cells, int atMost) {
        int end = cells.size() - 1;
        if (end > 0 && cells.get(end).rows() == 0) {
            List<Cell> all = new ArrayList<>(condensed(cells.subList(0, end), atMost));
            all.add(cells.get(end));
            return all;
        }
        long total = cells.stream().mapToLong(Cell::rows).sum();
        List<Cell> out = new ArrayList<>();
        long passed = 0;
        for (Cell cell : cells) {
            long place = total == 0 ? 0 : Math.min(atMost - 1, passed * atMost / total);
            if (out.size() > place) {
                out.set(out.size() - 1, out.get(out.size() - 1).plus(cell));
            } else {
                out.add(cell);
            }
            passed += cell.rows();
        }
        return out;
    }
}
