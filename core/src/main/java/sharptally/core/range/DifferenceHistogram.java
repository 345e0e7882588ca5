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

    /** All cells so far, in key order. */
    public List<Cell> cells() {
        List<Cell> all = new ArrayList<>(full);
        if (rows > 0) {
            all.add(new Cell(from, rows, differing));
        }
        return all;
    }

    /**
     * Cells put together to no more than so many, of about equal numbers of rows.
     *
     * @param cells in key order
     */
    public static List<Cell> condensed(List<Cell> cells, int atMost) {
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
