package sharptally.core.draft;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import sharptally.core.place.Place;
import sharptally.core.place.ReadRequest;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.KeyShape;
import sharptally.core.shape.TableShape;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.core.types.ShortestDecimal;
import sharptally.core.types.Value;

/**
 * Some rows of a table, those with the lowest keys, each value as a text that is the same for values that are held
 * equal whatever their types: numbers without trailing zeros, times in one form, padding taken off.
 *
 * @param columns those that can be read
 * @param rows a text per column; {@link #NULL} for NULL
 */
record Sample(TableShape table, List<ColumnShape> columns, List<List<String>> rows) {
    /** What stands for NULL; no text of a value can be this. */
    static final String NULL = "\0NULL";

    private static final int MAX_LETTERS = 200;

    /** Reads the first rows of a table in the order of its key, or in any order where it has none. */
    static Sample read(Place place, TableShape table, int maxRows) {
        List<ColumnShape> columns =
                table.columns().stream().filter(c -> c.type().isPresent()).toList();
        List<ColumnShape> order = table.keys().stream()
                .filter(KeyShape::primary)
                .findFirst()
                .map(k -> k.columns().stream()
                        .map(c -> table.column(c).orElseThrow())
                        .toList())
                .orElse(List.of());
        List<List<String>> rows = new ArrayList<>();
        if (!columns.isEmpty()) {
            try (RowSource source = place.read(new ReadRequest(table, columns, order).first(maxRows))) {
                for (var batch = source.next(); batch.isPresent(); batch = source.next()) {
                    for (int row = 0; row < batch.get().rows(); row++) {
                        List<String> texts = new ArrayList<>(columns.size());
                        for (int c = 0; c < columns.size(); c++) {
                            texts.add(text(batch.get().column(c).value(row), columns.get(c)));
                        }
                        rows.add(texts);
                    }
                }
            }
        }
        return new Sample(table, columns, rows);
    }

    private static String text(Value value, ColumnShape column) {
        if (value instanceof Value.Null) {
            return NULL;
        } else if (value instanceof Value.Bool bool) {
            return bool.value() ? "1" : "0";
        } else if (value instanceof Value.Decimal decimal) {
            return plain(decimal.value());
        } else if (value instanceof Value.Double number && Double.isFinite(number.value())) {
            return plain(ShortestDecimal.of(number.value()));
        } else if (value instanceof Value.Real number && Float.isFinite(number.value())) {
            return plain(ShortestDecimal.of(number.value()));
        } else if (value instanceof Value.Date date) {
            return date.value() + " 00:00:00";
        } else if (value instanceof Value.Text text) {
            return ofText(text.value(), column.type().orElseThrow());
        }
        String text = value.toString();
        // An instant is compared with zone-less times as the time in UTC.
        String bare = value instanceof Value.Instant ? text.replace("Z", "") : text;
        return bare.length() > MAX_LETTERS ? bare.substring(0, MAX_LETTERS) : bare;
    }

    private static String ofText(String text, CanonicalType type) {
        String bare = type.padded() ? text.stripTrailing() : text;
        boolean date = type.kind() == Kind.DATE && bare.length() == 10;
        String whole = date ? bare + " 00:00:00" : type.kind() == Kind.TIMESTAMP ? bare.replace('T', ' ') : bare;
        return whole.length() > MAX_LETTERS ? whole.substring(0, MAX_LETTERS) : whole;
    }

    private static String plain(java.math.BigDecimal number) {
        return number.signum() == 0 ? "0" : number.stripTrailingZeros().toPlainString();
    }

    /** The texts of one column, row by row. */
    List<String> column(int column) {
        return rows.stream().map(row -> row.get(column)).toList();
    }

    /** The different texts of a column, NULL aside. */
    Set<String> distinct(int column) {
        Set<String> texts = new HashSet<>(column(column));
        texts.remove(NULL);
        return texts;
    }

    int placeOf(ColumnShape column) {
        return columns.indexOf(column);
    }

    /** Whether no two rows hold the same in these columns, and none of them is NULL. */
    boolean isUnique(List<Integer> places) {
        Set<List<String>> seen = new HashSet<>();
        for (List<String> row : rows) {
            List<String> key = places.stream().map(row::get).toList();
            if (key.contains(NULL) || !seen.add(key)) {
                return false;
            }
        }
        return !rows.isEmpty();
    }

    /** Rows by what they hold in these columns. */
    Map<List<String>, List<String>> byKey(List<Integer> places) {
        Map<List<String>, List<String>> byKey = new HashMap<>();
        rows.forEach(row -> byKey.put(places.stream().map(row::get).toList(), row));
        return byKey;
    }
}
