package sharptally.core.compare.stream;

import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.BooleanSupplier;
import java.util.function.UnaryOperator;
import java.util.stream.IntStream;
import sharptally.core.compare.ComparisonContext;
import sharptally.core.compare.Counts;
import sharptally.core.compare.Pair;
import sharptally.core.compare.RangeResult;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.finding.FindingSink;
import sharptally.core.match.ColumnPair;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Place;
import sharptally.core.place.ReadRequest;
import sharptally.core.place.Side;
import sharptally.core.range.KeyRange;
import sharptally.core.rows.Cast;
import sharptally.core.rows.Column;
import sharptally.core.rows.Prefetch;
import sharptally.core.rows.RowSource;
import sharptally.core.rule.RuleSet;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;
import sharptally.core.sort.ExternalSort;

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
    private static final int STEPS_PER_CHECK = 4_096;
    private static final long MAX_SORT_CHUNK_BYTES = 32L << 20;

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

    private List<RuleSet> rules() {
        return match.pairs().stream().map(ColumnPair::toRuleSet).toList();
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
        ResultCounter tally = new ResultCounter(match.pairs().size());
        try (RowCursor sourceCursor = cursor(sourceRows, Side.SOURCE, !aligned);
                RowCursor targetCursor = cursor(targetRows, Side.TARGET, !aligned)) {
            BooleanSupplier step = match.wholeRow()
                    ? new WholeRowMerge(match, sourceCursor, targetCursor, sink, tally)::step
                    : new KeyedMerge(match, sourceCursor, targetCursor, sink, tally, aligned)::step;
            int steps = 0;
            while (step.getAsBoolean()) {
                if (++steps == STEPS_PER_CHECK) {
                    steps = 0;
                    context.progress().rows(sourceCursor.rowsPassed(), targetCursor.rowsPassed());
                    if (context.stopAsked().getAsBoolean()) {
                        throw stopped(match);
                    }
                }
            }
            context.progress().rows(sourceCursor.rowsPassed(), targetCursor.rowsPassed());
            Counts counts = tally.counts(sourceCursor.rowsPassed(), targetCursor.rowsPassed());
            return new RangeResult(counts, method, tally.damage().cells(), List.of());
        }
    }

    public static ToolException stopped(TableMatch match) {
        return new ToolException(ErrorKind.INCOMPLETE, "stopped on request", match.name(), "nothing was proved");
    }

    private RowCursor cursor(RowSource rows, Side side, boolean ordered) {
        int[] key = match.wholeRow()
                ? IntStream.range(0, match.pairs().size()).toArray()
                : match.key().stream().mapToInt(i -> i).toArray();
        TableShape table = side == Side.SOURCE ? match.source() : match.target();
        int position = table.position().isPresent() ? columns(side).size() - 1 : -1;
        return new RowCursor(rows, side, key, forms(side, true), rules(), ordered, position);
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
            List<Integer> sortBy = match.wholeRow()
                    ? IntStream.range(0, match.pairs().size()).boxed().toList()
                    : match.key();
            rows = new ExternalSort(
                    rows,
                    batch -> sortBy.stream()
                            .map(i -> form(i, side).apply(batch.column(i)))
                            .toList(),
                    MAX_SORT_CHUNK_BYTES,
                    context.temporary());
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
        return new CastingSource(rows, forms(side, false));
    }

    /** What a column of one side becomes so that it can be compared, or stand in an order, with the other side's. */
    public UnaryOperator<Column> form(int pair, Side side) {
        ColumnPair columns = match.pairs().get(pair);
        Cast cast = side == Side.SOURCE ? columns.sourceCast() : columns.targetCast();
        RuleSet set = columns.toRuleSet();
        if (set.isEmpty()) {
            return cast::apply;
        }
        boolean ordered = match.wholeRow() || match.key().contains(pair);
        return column -> {
            Column translated = set.translated(cast.apply(column), side);
            return ordered ? set.loosened(translated) : translated;
        };
    }

    /** The forms that are made late, or those that are made while reading; empty for the others. */
    private List<Optional<UnaryOperator<Column>>> forms(Side side, boolean late) {
        List<Optional<UnaryOperator<Column>>> all = new ArrayList<>();
        for (int i = 0; i < match.pairs().size(); i++) {
            all.add(isMadeLate(i) == late ? Optional.of(form(i, side)) : Optional.empty());
        }
        return all;
    }

    /** Columns of the same type on both sides, when neither a translation nor the order of rows hangs on them. */
    private boolean isMadeLate(int pair) {
        var columns = match.pairs().get(pair);
        return !match.wholeRow()
                && !match.key().contains(pair)
                && !columns.toRuleSet().translates()
                && columns.source().type().equals(columns.target().type());
    }
}
