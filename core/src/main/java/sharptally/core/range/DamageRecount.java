package sharptally.core.range;

import java.util.ArrayList;
import java.util.List;
import sharptally.core.types.Value;

/** Counts anew how many rows differ in cells that are there already. Used by one thread. */
public final class DamageRecount {
    private final List<Damage.Cell> cells;
    private final long[] differing;
    private List<Value> last = List.of();
    private int at;

    /**
     * @param cells in key order
     */
    public DamageRecount(List<Damage.Cell> cells) {
        this.cells = List.copyOf(cells);
        this.differing = new long[cells.size()];
    }

    /** Counts a key that still differs; keys come in key order, and one that comes again at once counts once. */
    public void add(List<Value> key) {
        if (cells.isEmpty() || key.equals(last)) {
            return;
        }
        last = key;
        while (at + 1 < cells.size() && new KeyRange(cells.get(at + 1).from(), List.of()).holds(key)) {
            at++;
        }
        differing[at]++;
    }

    /** The cells with what was counted; none holds more than its rows. */
    public List<Damage.Cell> cells() {
        List<Damage.Cell> now = new ArrayList<>();
        for (int i = 0; i < differing.length; i++) {
            Damage.Cell cell = cells.get(i);
            now.add(new Damage.Cell(cell.from(), cell.rows(), Math.min(cell.rows(), differing[i])));
        }
        return now;
    }
}
