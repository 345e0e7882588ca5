package sharptally.engines.jdbc;

import java.util.List;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import sharptally.core.place.SumsRequest;
import sharptally.core.range.KeyRange;
import sharptally.core.shape.ColumnShape;

/** Writes the queries that work checksums out. */
record SumSelects(Selects selects) {
    /**
     * Rows and checksum of each range of a request, or of each slice, numbered: three columns that are read as text.
     * Where ranges are sought, each is a query of its own; else one pass puts each row into its range.
     */
    String sums(SumsRequest request, boolean sought) {
        Hashing hashing = selects.engine().hashing();
        List<ColumnShape> columns =
                request.columns().stream().map(SumsRequest.Hashed::column).toList();
        boolean own = request.form() == SumsRequest.Form.OWN;
        String hash =
                columns.isEmpty() ? "0" : own ? hashing.own(request.columns()) : hashing.common(request.columns());
        String figures = "COUNT(*), " + hashing.sum(own ? hashing.ownMixed("tally_hash") : "tally_hash");
        List<ColumnShape> key = request.key();
        List<KeyRange> ranges = request.ranges();
        String rows = hash + " AS tally_hash FROM " + selects.from(request.table(), columns, key);
        if (request.step().isPresent() || !sought && ranges.size() > 1) {
            String slice = request.step().isPresent()
                    ? hashing.slice(selects.quote(key.get(0)), request.step().getAsLong())
                    : numbered(key, ranges, 0, ranges.size() - 1);
            return "SELECT tally_slice, " + figures + " FROM ("
                    + hashing.fenced(
                            "SELECT " + slice + " AS tally_slice, " + rows + where(key, KeyRange.joined(ranges)))
                    + ") tally_hashes GROUP BY tally_slice";
        }
        return IntStream.range(0, ranges.size())
                .mapToObj(i -> "SELECT " + i + ", " + figures + " FROM ("
                        + hashing.fenced("SELECT " + rows + where(key, List.of(ranges.get(i)))) + ") tally_hashes")
                .collect(Collectors.joining(" UNION ALL "));
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
