package sharptally.core.compare.stream;

import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.UnaryOperator;
import sharptally.core.compare.ComparisonContext;
import sharptally.core.compare.Pair;
import sharptally.core.compare.RangeResult;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.finding.FindingSink;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Place;
import sharptally.core.place.ReadRequest;
import sharptally.core.place.Side;
import sharptally.core.range.KeyRange;
import sharptally.core.rows.Column;
import sharptally.core.rows.Prefetch;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;

/**
 * Compares rows of a match by reading them: both sides in key order, each by a thread of its own, and merged.
 *
 * @param sortHere the sides whose rows are sorted by this program
 * @param sample the rows that are compared; empty for all
 * @param remarks gets a sentence for all that the user should know; safe for several threads
 * @param reading how rows are had that are sorted here
 */
public record StreamComparison(
        TableMatch match,
        Pair places,
        Set<Side> sortHere,
        Optional<Sample> sample,
        List<String> remarks,
        ComparisonContext context,
        Reading reading) {
    public StreamComparison {
        sortHere = sortHere.isEmpty() ? EnumSet.noneOf(Side.class) : EnumSet.copyOf(sortHere);
    }

    /** Hands out the rows of a side. */
    public interface Reading {
        RowSource read(Side side, ReadRequest request);
    }

    /** Of the rows that the places have. */
    public StreamComparison(
            TableMatch match,
            Pair places,
            Set<Side> sortHere,
            Optional<Sample> sample,
            List<String> remarks,
            ComparisonContext context) {
        this(
                match,
                places,
                sortHere,
                sample,
                remarks,
                context,
                (side, request) -> places.of(side).read(request));
    }

    /** The same of rows that are had otherwise. */
    public StreamComparison reading(Reading other) {
        return new StreamComparison(match, places, sortHere, sample, remarks, context, other);
    }

    /** What is made of rows, wherever they come from. */
    private RowMerge rows() {
        return new RowMerge(match, context);
    }

    /**
     * @param ranges which rows; empty for all
     * @throws OutOfOrder when a side does not come in key order
     */
    public RangeResult merge(List<KeyRange> ranges, FindingSink sink) {
        try (RowSource sourceRows = open(Side.SOURCE, ranges);
                RowSource targetRows = open(Side.TARGET, ranges)) {
            String method = match.wholeRow() ? "whole rows" : sortHere.isEmpty() ? "stream" : "stream, sorted here";
            return merge(sourceRows, targetRows, sink, false, method);
        }
    }

    /**
     * @param aligned whether rows of both sides stand beside each other, absent ones with a NULL key
     */
    public RangeResult merge(
            RowSource sourceRows, RowSource targetRows, FindingSink sink, boolean aligned, String method) {
        return rows().merge(sourceRows, targetRows, sink, aligned, method);
    }

    public static ToolException stopped(TableMatch match) {
        return new ToolException(ErrorKind.INCOMPLETE, "stopped on request", match.name(), "nothing was proved");
    }

    List<ColumnShape> columns(Side side) {
        return match.readColumns(side);
    }

    /** What is read of a side: in the order of the key, unless it is sorted here. */
    public ReadRequest request(Side side, List<ColumnShape> columns) {
        TableShape table = side == Side.SOURCE ? match.source() : match.target();
        List<ColumnShape> order = sortHere.contains(side)
                ? List.of()
                : match.keyPairs().stream()
                        .map(p -> side == Side.SOURCE ? p.source() : p.target())
                        .toList();
        return new ReadRequest(table, columns, order);
    }

    /** Whether rows come in the order of a key that the database holds unique and not NULL. */
    public static boolean comesByKey(ReadRequest request) {
        List<ColumnShape> order = request.orderBy();
        return !order.isEmpty()
                && request.table()
                        .holdsUnique(order.stream().map(ColumnShape::name).toList())
                && order.stream().noneMatch(ColumnShape::nullable);
    }

    /** The rows of a side; where they come by a key, reading goes on when the connection breaks. */
    public RowSource read(Side side, ReadRequest request) {
        int[] key = match.key().stream().mapToInt(i -> i).toArray();
        return comesByKey(request)
                ? new ResumingSource(places.of(side), request, key, remarks::add)
                : reading.read(side, request);
    }

    /** Rows of one side as they are to be merged. */
    private RowSource open(Side side, List<KeyRange> ranges) {
        ReadRequest request = request(side, columns(side)).within(ranges).withImages(comparesImages());
        TableShape table = request.table();
        Place place = places.of(side);
        int[] key = match.key().stream().mapToInt(i -> i).toArray();
        RowSource rows = context.limit().slowed(read(side, request));
        if (sortHere.contains(side)) {
            rows = rows().sorted(rows, side);
        }
        RowSource cast = cast(rows, side);
        boolean all = ranges.isEmpty() || ranges.stream().anyMatch(KeyRange::holdsAll);
        // Of a place that finds no rows by their key, all of them came.
        RowSource checked = all
                ? cast
                : new RangeCheck(cast, side, ranges, key, place.seeking().isEmpty());
        RowSource chosen = sample.map(s -> s.of(checked, side, key)).orElse(checked);
        return new Prefetch(chosen, side + "-" + table.name(), context.stopAsked());
    }

    /**
     * Whether equal bytes on both sides prove a row the same: both sides send the same columns, of the same types, in the
     * same form, and nothing is translated on the way.
     */
    private boolean comparesImages() {
        Optional<String> form = places.source().imageForm();
        return !match.wholeRow()
                && sortHere.isEmpty()
                && form.isPresent()
                && form.equals(places.target().imageForm())
                && columns(Side.SOURCE).size() == match.pairs().size()
                && columns(Side.TARGET).size() == match.pairs().size()
                && match.pairs().stream()
                        .allMatch(p -> p.source().type().equals(p.target().type())
                                && p.source().declaredType().equals(p.target().declaredType())
                                && !p.toRuleSet().translates());
    }

    /** The rows with their compared forms. */
    public RowSource cast(RowSource rows, Side side) {
        return rows().cast(rows, side);
    }

    /** What a column of one side becomes so that it can be compared, or stand in an order, with the other side's. */
    public UnaryOperator<Column> form(int pair, Side side) {
        return rows().form(pair, side);
    }
}
