package sharptally.core.totals;

import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.Function;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Place;
import sharptally.core.place.part.Aggregates;
import sharptally.core.place.part.TotalsRequest;
import sharptally.core.rows.Column;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;

/** Has a place work out figures, as many statements as their number needs, and brings them to exact numbers. */
final class TotalsReading {
    /** Orders groups by what their columns hold, from the first column on. */
    static final Comparator<List<String>> ORDER = (one, other) -> {
        for (int i = 0; i < one.size(); i++) {
            int c = one.get(i).compareTo(other.get(i));
            if (c != 0) {
                return c;
            }
        }
        return 0;
    };

    /** Databases limit the length of a select list; this many stay below every limit. */
    private static final int TERMS_PER_STATEMENT = 300;

    private TotalsReading() {}

    static Column cell(Value value) {
        Column cell = new Column(1);
        cell.add(value);
        return cell;
    }

    /**
     * The figures of each group, in the order of the terms.
     *
     * @param key what tells groups apart, from the values of a result row
     */
    static Map<List<String>, Value[]> read(
            Place place,
            TableShape table,
            List<TotalsRequest.Group> by,
            List<TotalsRequest.Term> terms,
            int maxGroups,
            Function<List<Value>, List<String>> key) {
        Map<List<String>, Value[]> groups = new TreeMap<>(ORDER);
        for (int from = 0; from < terms.size(); from += TERMS_PER_STATEMENT) {
            List<TotalsRequest.Term> part = terms.subList(from, Math.min(terms.size(), from + TERMS_PER_STATEMENT));
            int first = from;
            try (Aggregates.Totals figures = aggregates(place).totals(new TotalsRequest(table, by, part))) {
                RowSource rows = figures.rows();
                java.util.Set<List<String>> seen = new java.util.TreeSet<>(ORDER);
                for (var batch = rows.next(); batch.isPresent(); batch = rows.next()) {
                    for (int row = 0; row < batch.get().rows(); row++) {
                        List<Value> values = batch.get().row(row);
                        List<String> group = key.apply(values);
                        if (!seen.add(group)) {
                            throw new ToolException(
                                    ErrorKind.USAGE,
                                    "two groups of one side become one by a rule",
                                    table.name() + " " + group,
                                    "group by other columns");
                        }
                        Value[] found = groups.computeIfAbsent(group, g -> {
                            Value[] none = new Value[terms.size()];
                            java.util.Arrays.fill(none, Value.NULL);
                            return none;
                        });
                        for (int i = 0; i < part.size(); i++) {
                            found[first + i] = exact(
                                    values.get(by.size() + i), figures.columns().get(by.size() + i));
                        }
                    }
                }
            }
            if (groups.size() > maxGroups) {
                throw new ToolException(
                        ErrorKind.USAGE,
                        "there are more than " + maxGroups + " groups",
                        table.name().toString(),
                        "group by fewer columns, or compare the rows");
            }
        }
        return groups;
    }

    private static Aggregates aggregates(Place place) {
        return place.aggregates()
                .orElseThrow(() -> new ToolException(
                        ErrorKind.USAGE,
                        "totals can't be worked out here, rows can only be read",
                        place.address().toString(),
                        "compare the rows"));
    }

    /** A number that an engine hands over as text, as a number. */
    private static Value exact(Value value, ColumnShape column) {
        Kind kind = column.type().orElseThrow().kind();
        return value instanceof Value.Text && (kind == Kind.DECIMAL || kind == Kind.INTEGER)
                ? new sharptally.core.rows.Cast(CanonicalType.of(Kind.TEXT), kind)
                        .apply(cell(value))
                        .value(0)
                : value;
    }
}
