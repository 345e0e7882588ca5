package sharptally.core.compare;

import java.time.Duration;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.BooleanSupplier;
import java.util.function.UnaryOperator;
import java.util.stream.IntStream;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.finding.FindingSink;
import sharptally.core.match.ColumnPair;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Place;
import sharptally.core.place.ReadRequest;
import sharptally.core.place.Side;
import sharptally.core.rows.Cast;
import sharptally.core.rows.Column;
import sharptally.core.rows.Prefetch;
import sharptally.core.rows.RowSource;
import sharptally.core.rule.RuleSet;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;
import sharptally.core.sort.ExternalSort;

/**
 * Compares one match by the method stream: both sides are read in key order, each by a thread of its own, and merged.
 *
 * <p>The databases are asked for the key order and are not trusted with it: engines differ in how they order text, and
 * a column may hold values that its type does not tell of. Rows that come out of order end the attempt; the comparison
 * starts over with that side sorted here. The result does not depend on timing.
 */
public final class TableComparison {
    private static final int STEPS_PER_CHECK = 4_096;
    private static final long MAX_SORT_CHUNK_BYTES = 32L << 20;

    private final TableMatch match;
    private final Place source;
    private final Place target;
    private final Progress progress;
    private final BooleanSupplier stopAsked;
    private final List<RuleSet> rules;

    /**
     * @param stopAsked looked at now and then; once true, the comparison ends with an {@code INCOMPLETE} failure
     */
    public TableComparison(TableMatch match, Place source, Place target, Progress progress, BooleanSupplier stopAsked) {
        this.match = match;
        this.source = source;
        this.target = target;
        this.progress = progress;
        this.stopAsked = stopAsked;
        this.rules = match.pairs().stream().map(ColumnPair::toRuleSet).toList();
    }

    /**
     * @throws ToolException when a side can't be read to its end, or a stop was asked for; what the sink has been given
     *     by then proves nothing
     */
    public Outcome run(FindingSink sink) {
        long started = System.nanoTime();
        boolean otherOrder = match.key().stream().anyMatch(i -> rules.get(i).changesOrder());
        Set<Side> sortHere = match.wholeRow() || otherOrder ? EnumSet.allOf(Side.class) : EnumSet.noneOf(Side.class);
        List<String> remarks = java.util.Collections.synchronizedList(new ArrayList<>());
        while (true) {
            try {
                Counts counts = attempt(sink, sortHere, remarks);
                String method = match.wholeRow() ? "whole rows" : sortHere.isEmpty() ? "stream" : "stream, sorted here";
                return new Outcome(counts, method, Duration.ofNanos(System.nanoTime() - started), remarks);
            } catch (OutOfOrder e) {
                if (!sortHere.add(e.side())) {
                    throw new IllegalStateException("rows of the " + e.side() + " are out of order after sorting", e);
                }
                remarks.add("the " + e.side() + " orders this key in another way; its rows were sorted here");
                sink.restart();
            }
        }
    }

    private Counts attempt(FindingSink sink, Set<Side> sortHere, List<String> remarks) {
        Tally tally = new Tally(match.pairs().size());
        try (RowSource sourceRows = open(Side.SOURCE, sortHere.contains(Side.SOURCE), remarks);
                RowSource targetRows = open(Side.TARGET, sortHere.contains(Side.TARGET), remarks);
                RowCursor sourceCursor = cursor(sourceRows, Side.SOURCE);
                RowCursor targetCursor = cursor(targetRows, Side.TARGET)) {
            BooleanSupplier step = match.wholeRow()
                    ? new WholeRowMerge(match, sourceCursor, targetCursor, sink, tally)::step
                    : new KeyedMerge(match, sourceCursor, targetCursor, sink, tally)::step;
            int steps = 0;
            while (step.getAsBoolean()) {
                if (++steps == STEPS_PER_CHECK) {
                    steps = 0;
                    progress.rows(sourceCursor.rowsPassed(), targetCursor.rowsPassed());
                    if (stopAsked.getAsBoolean()) {
                        throw new ToolException(
                                ErrorKind.INCOMPLETE, "stopped on request", match.name(), "nothing was proved");
                    }
                }
            }
            progress.rows(sourceCursor.rowsPassed(), targetCursor.rowsPassed());
            return tally.counts(sourceCursor.rowsPassed(), targetCursor.rowsPassed());
        }
    }

    private RowCursor cursor(RowSource rows, Side side) {
        int columns = columns(side).size();
        int[] key = match.wholeRow()
                ? IntStream.range(0, match.pairs().size()).toArray()
                : match.key().stream().mapToInt(i -> i).toArray();
        return new RowCursor(rows, side, columns, key, forms(side, true), rules);
    }

    private List<ColumnShape> columns(Side side) {
        return side == Side.SOURCE ? match.sourceColumns() : match.targetColumns();
    }

    private RowSource open(Side side, boolean sortHere, List<String> remarks) {
        TableShape table = side == Side.SOURCE ? match.source() : match.target();
        List<ColumnShape> order = sortHere
                ? List.of()
                : match.keyPairs().stream()
                        .map(p -> side == Side.SOURCE ? p.source() : p.target())
                        .toList();
        ReadRequest request = new ReadRequest(table, columns(side), order);
        Place place = side == Side.SOURCE ? source : target;
        boolean unique = !order.isEmpty()
                && table.holdsUnique(order.stream().map(ColumnShape::name).toList())
                && order.stream().noneMatch(ColumnShape::nullable);
        int[] key = match.key().stream().mapToInt(i -> i).toArray();
        RowSource rows = unique ? new ResumingSource(place, request, key, remarks::add) : place.read(request);
        if (sortHere) {
            List<Integer> sortBy = match.wholeRow()
                    ? IntStream.range(0, match.pairs().size()).boxed().toList()
                    : match.key();
            rows = new ExternalSort(
                    rows,
                    batch -> sortBy.stream()
                            .map(i -> form(i, side).apply(batch.column(i)))
                            .toList(),
                    MAX_SORT_CHUNK_BYTES);
        }
        return new Prefetch(new CastingSource(rows, forms(side, false)), side + "-" + table.name(), stopAsked);
    }

    /** What a column of one side becomes so that it can be compared, or stand in an order, with the other side's. */
    private UnaryOperator<Column> form(int pair, Side side) {
        ColumnPair columns = match.pairs().get(pair);
        Cast cast = side == Side.SOURCE ? columns.sourceCast() : columns.targetCast();
        RuleSet set = rules.get(pair);
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
        return IntStream.range(0, match.pairs().size())
                .mapToObj(i ->
                        isMadeLate(i) == late ? Optional.of(form(i, side)) : Optional.<UnaryOperator<Column>>empty())
                .toList();
    }

    /** Columns of the same type on both sides, when neither a translation nor the order of rows hangs on them. */
    private boolean isMadeLate(int pair) {
        var columns = match.pairs().get(pair);
        return !match.wholeRow()
                && !match.key().contains(pair)
                && !rules.get(pair).translates()
                && columns.source().type().equals(columns.target().type());
    }
}
