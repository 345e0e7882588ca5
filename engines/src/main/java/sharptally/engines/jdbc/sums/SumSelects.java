package sharptally.engines.jdbc.sums;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import sharptally.core.place.part.SumsRequest;
import sharptally.core.range.KeyRange;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.Value;
import sharptally.engines.jdbc.Selects;

/** Writes the queries that work checksums out. */
record SumSelects(Selects selects, Hashing hashing) {
    /** Fewer ranges are not worth a list. */
    private static final int WORTH_LISTING = 4;

    /**
     * Rows and checksum of each range of a request, or of each slice, numbered: three columns that are read as text.
     * Where ranges are sought, each is a query of its own; else one pass puts each row into its range.
     */
    String sums(SumsRequest request, boolean sought) {
        List<ColumnShape> columns =
                request.columns().stream().map(SumsRequest.Hashed::column).toList();
        boolean own = request.form() == SumsRequest.Form.OWN;
        String hash =
                columns.isEmpty() ? "0" : own ? hashing.own(request.columns()) : hashing.common(request.columns());
        String figures = "COUNT(*), " + (columns.isEmpty() ? "0" : hashing.sum("tally_hash"));
        List<ColumnShape> key = request.key();
        List<KeyRange> ranges = request.ranges();
        String rows = hash + " AS tally_hash FROM " + selects.from(request.table(), columns, key);
        Optional<String> slices = sought && request.step().isPresent() ? bySlices(request, hash) : Optional.empty();
        if (slices.isPresent()) {
            return slices.get();
        }
        if (request.step().isPresent() || !sought && ranges.size() > 1) {
            String slice = request.step().isPresent()
                    ? hashing.slice(selects.quote(key.get(0)), request.step().getAsLong())
                    : numbered(key, ranges, 0, ranges.size() - 1);
            return "SELECT tally_slice, " + figures + " FROM ("
                    + hashing.fenced(
                            "SELECT " + slice + " AS tally_slice, " + rows + where(key, KeyRange.joined(ranges)))
                    + ") tally_hashes GROUP BY tally_slice";
        }
        Optional<List<String>> types = listedAs(request);
        Set<Integer> listed = IntStream.range(0, ranges.size())
                .filter(i -> types.isPresent() && isFull(ranges.get(i), key.size()))
                .boxed()
                .collect(Collectors.toCollection(TreeSet::new));
        if (listed.size() < WORTH_LISTING) {
            listed.clear();
        }
        List<String> queries = new ArrayList<>();
        if (!listed.isEmpty()) {
            queries.add(beside(key, ranges, listed, types.get(), rows));
        }
        for (int i = 0; i < ranges.size(); i++) {
            if (!listed.contains(i)) {
                queries.add("SELECT " + i + ", " + figures + " FROM ("
                        + hashing.fenced("SELECT " + rows + where(key, List.of(ranges.get(i)))) + ") tally_hashes");
            }
        }
        return String.join(" UNION ALL ", queries);
    }

    /** The types of the key's columns where ranges can stand in a list. */
    private Optional<List<String>> listedAs(SumsRequest request) {
        List<Optional<String>> types = request.key().stream()
                .map(c -> c.nullable() ? Optional.<String>empty() : hashing.listedAs(c))
                .toList();
        return types.stream().allMatch(Optional::isPresent)
                ? Optional.of(types.stream().map(Optional::orElseThrow).toList())
                : Optional.empty();
    }

    /** With both ends, of as many values as the key has. */
    private static boolean isFull(KeyRange range, int size) {
        return range.from().size() == size
                && range.to().size() == size
                && !range.from().contains(Value.NULL)
                && !range.to().contains(Value.NULL);
    }

    /** Ranges in a list, each sought by itself: the query is planned once, not once for each. */
    private String beside(
            List<ColumnShape> key, List<KeyRange> ranges, Set<Integer> listed, List<String> types, String rows) {
        String names = IntStream.range(0, key.size())
                .mapToObj(i -> "tally_from" + i + ", tally_to" + i)
                .collect(Collectors.joining(", ", "tally_range, ", ""));
        String values = listed.stream()
                .map(n -> IntStream.range(0, key.size())
                        .mapToObj(i -> cast(key, ranges.get(n).from(), types, i) + ", "
                                + cast(key, ranges.get(n).to(), types, i))
                        .collect(Collectors.joining(", ", "(" + n + ", ", ")")))
                .collect(Collectors.joining(", "));
        // How many rows there are is guessed by the first column alone.
        String first = compared(key, ">=", "from", 1) + " AND " + compared(key, key.size() > 1 ? "<=" : "<", "to", 1);
        String condition = key.size() == 1
                ? first
                : first + " AND " + compared(key, ">=", "from", key.size()) + " AND "
                        + compared(key, "<", "to", key.size());
        return "SELECT tally_range, tally_rows, tally_sum FROM (VALUES " + values + ") tally_ranges(" + names
                + ") CROSS JOIN LATERAL (SELECT COUNT(*) AS tally_rows, " + hashing.sum("tally_hash")
                + " AS tally_sum FROM (" + hashing.fenced("SELECT " + rows + " WHERE " + condition)
                + ") tally_hashes) tally_sums";
    }

    private String cast(List<ColumnShape> key, List<Value> bound, List<String> types, int column) {
        return "CAST(" + selects.engine().terms().literal(bound.get(column), key.get(column)) + " AS "
                + types.get(column) + ")";
    }

    /** The first columns of a key held against an end of the range. */
    private String compared(List<ColumnShape> key, String operator, String end, int columns) {
        if (columns == 1) {
            return selects.engine().reading().compared(key.get(0), operator, "tally_ranges.tally_" + end + 0);
        }
        return IntStream.range(0, columns)
                        .mapToObj(i -> selects.engine().reading().orderTerm(key.get(i)))
                        .collect(Collectors.joining(", ", "(", ") "))
                + operator
                + IntStream.range(0, columns)
                        .mapToObj(i -> "tally_ranges.tally_" + end + i)
                        .collect(Collectors.joining(", ", " (", ")"));
    }

    /**
     * Each slice sought by itself, which costs less than putting rows into groups; only for ranges that end on both
     * sides.
     */
    private Optional<String> bySlices(SumsRequest request, String hash) {
        List<KeyRange> ranges = request.ranges();
        if (!ranges.stream().allMatch(r -> isPlain(r.from()) && isPlain(r.to()))) {
            return Optional.empty();
        }
        ColumnShape key = request.key().get(0);
        long step = request.step().getAsLong();
        String bounds = ranges.stream()
                .map(r -> "(" + number(r.from()) + ", " + number(r.to()) + ")")
                .collect(Collectors.joining(", ", "(VALUES ", ") tally_ranges(tally_least, tally_end)"));
        String name = selects.quote(key);
        return hashing.slices(key, "tally_least", "tally_end", step, "tally_slices")
                .map(slices -> "SELECT tally_slices.tally_from / " + step + ", tally_rows, tally_sum FROM " + bounds
                        + " CROSS JOIN " + slices + " CROSS JOIN LATERAL (SELECT COUNT(*) AS tally_rows, "
                        + hashing.sum("tally_hash") + " AS tally_sum FROM ("
                        + hashing.fenced("SELECT " + hash + " AS tally_hash FROM "
                                + selects.from(
                                        request.table(),
                                        request.columns().stream()
                                                .map(SumsRequest.Hashed::column)
                                                .toList(),
                                        request.key())
                                + " WHERE " + name
                                + " >= GREATEST(tally_slices.tally_from, tally_ranges.tally_least) AND "
                                + name
                                + " < LEAST(tally_slices.tally_from + " + step + ", tally_ranges.tally_end)")
                        + ") tally_hashes) tally_sums");
    }

    /** Not negative, as those are cut towards zero, and with room for a step behind it. */
    private static boolean isPlain(List<Value> bound) {
        return !bound.isEmpty()
                && bound.get(0) instanceof Value.Int number
                && number.value() >= 0
                && number.value() < Long.MAX_VALUE / 2;
    }

    private static String number(List<Value> bound) {
        return "CAST(" + ((Value.Int) bound.get(0)).value() + " AS BIGINT)";
    }

    private String where(List<ColumnShape> key, List<KeyRange> ranges) {
        String condition = selects.within(key, ranges);
        return condition.isEmpty() ? "" : " WHERE " + condition;
    }

    /** The place of the range in which a key is, found by halving. */
    private String numbered(List<ColumnShape> key, List<KeyRange> ranges, int first, int last) {
        if (first == last) {
            return Integer.toString(first);
        }
        int middle = (first + last + 1) / 2;
        return "CASE WHEN " + selects.below(key, ranges.get(middle).from()) + " THEN "
                + numbered(key, ranges, first, middle - 1) + " ELSE " + numbered(key, ranges, middle, last) + " END";
    }
}
