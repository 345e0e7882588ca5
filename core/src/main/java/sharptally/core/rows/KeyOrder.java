package sharptally.core.rows;

import java.util.Comparator;
import java.util.List;
import sharptally.core.types.Value;

/** Orders keys as rows are ordered by them. */
public final class KeyOrder {
    /** Keys with fewer columns come before those that go on. */
    public static final Comparator<List<Value>> ASCENDING = (one, other) -> {
        for (int i = 0; i < Math.min(one.size(), other.size()); i++) {
            int c = CellOrder.compare(cell(one.get(i)), 0, cell(other.get(i)), 0);
            if (c != 0) {
                return c;
            }
        }
        return Integer.compare(one.size(), other.size());
    };

    private KeyOrder() {}

    private static Column cell(Value value) {
        Column column = new Column(1);
        column.add(value);
        return column;
    }
}
