package sharptally.core.compare.stream;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.BooleanSupplier;
import java.util.function.UnaryOperator;
import java.util.stream.IntStream;
import sharptally.core.compare.ComparisonContext;
import sharptally.core.compare.Counts;
import sharptally.core.compare.RangeResult;
import sharptally.core.finding.FindingSink;
import sharptally.core.match.ColumnPair;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Side;
import sharptally.core.rows.Cast;
import sharptally.core.rows.Column;
import sharptally.core.rows.RowSource;
import sharptally.core.rule.RuleSet;
import sharptally.core.shape.TableShape;
import sharptally.core.sort.ExternalSort;

/**
 * Compares rows of a match, wherever they come from: brings them to their compared forms, sorts them where that is wanted, and
 * merges both sides into findings. It knows no place.
 */
public record RowMerge(TableMatch match, ComparisonContext context) {
    private static final int STEPS_PER_CHECK = 4_096;
    private static final long MAX_SORT_CHUNK_BYTES = 32L << 20;

    private List<RuleSet> rules() {
        return match.pairs().stream().map(ColumnPair::toRuleSet).toList();
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
                        throw StreamComparison.stopped(match);
                    }
                }
            }
            context.progress().rows(sourceCursor.rowsPassed(), targetCursor.rowsPassed());
            Counts counts = tally.counts(sourceCursor.rowsPassed(), targetCursor.rowsPassed());
            return new RangeResult(counts, method, tally.damage().cells(), List.of());
        }
    }

    private RowCursor cursor(RowSource rows, Side side, boolean ordered) {
        int[] key = match.wholeRow()
                ? IntStream.range(0, match.pairs().size()).toArray()
                : match.key().stream().mapToInt(i -> i).toArray();
        TableShape table = side == Side.SOURCE ? match.source() : match.target();
        int position = table.position().isPresent() ? match.readColumns(side).size() - 1 : -1;
        return new RowCursor(rows, side, key, forms(side, true), rules(), ordered, position);
    }

    /** The rows in the order of the key, or of all columns where there is none, sorted here. */
    public RowSource sorted(RowSource rows, Side side) {
        List<Integer> sortBy = match.wholeRow()
                ? IntStream.range(0, match.pairs().size()).boxed().toList()
                : match.key();
        return new ExternalSort(
                rows,
                batch -> sortBy.stream()
                        .map(i -> form(i, side).apply(batch.column(i)))
                        .toList(),
                MAX_SORT_CHUNK_BYTES,
                context.temporary());
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
