package sharptally.core.range;

import java.util.ArrayList;
import java.util.List;
import sharptally.core.types.Value;

/** Counts anew how many rows differ in cells that are there already. Used by one thread. */
public final class DifferenceRecount {
    private final List<DifferenceHistogram.Cell> cells;
    private final long[] differing;
    private List<Value> last = List.of();
    private int at;

    /**
     * @param cells in key order
     */
    public DifferenceRecount(List<DifferenceHistogram.Cell> cells) {
        this.cells = List.copyOf(cells);
        this.differing = new long[cells.size()];
    }

    /** Counts a key that still differs; keys come in key order, and one that comes again at once counts once. */
    public void add(List<Value> key) {
        if (cells.isEmpty() || key.equals(last)) {
            return;
        }
        last = key;
        while (at + 1 < cells.size()
                && cells.get(at + 1).rows() > 0
                && new KeyRange(cells.get(at + 1).from(), List.of()).holds(key)) {
            at++;
        }
        differing[at]++;
    }

    /** The cells with what was counted; none holds more than its rows. */
    public List<DifferenceHistogram.Cell> cells() {
        List<DifferenceHistogram.Cell> now = new ArrayList<>();
        for (int i = 0; i < differing.length; i++) {
            DifferenceHistogram.Cell cell = cells.get(i);
            now.add(new DifferenceHistogram.Cell(cell.from(), cell.rows(), Math.min(cell.rows(), differing[i])));
        }
        return now;
    }
}
