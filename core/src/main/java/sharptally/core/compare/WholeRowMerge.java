package sharptally.core.compare;

import java.util.List;
import sharptally.core.finding.Finding;
import sharptally.core.finding.FindingSink;
import sharptally.core.types.Value;

/**
 * Merges two streams of rows, each in the order of all compared columns, as multisets: a row that a side has more often
 * than the other is missing or extra that many times. Memory: one row per side.
 */
final class WholeRowMerge {
    private final RowCursor source;
    private final RowCursor target;
    private final FindingSink sink;
    private final Tally tally;

    WholeRowMerge(RowCursor source, RowCursor target, FindingSink sink, Tally tally) {
        this.source = source;
        this.target = target;
        this.sink = sink;
        this.tally = tally;
    }

    /** Handles one distinct row; false when both sides are at their end. */
    boolean step() {
        if (!source.hasRow() && !target.hasRow()) {
            return false;
        }
        int c = !source.hasRow() ? 1 : !target.hasRow() ? -1 : source.compareKey(target);
        List<Value> sourceRow = c <= 0 ? source.wholeRow() : List.of();
        List<Value> targetRow = c >= 0 ? target.wholeRow() : List.of();
        long inSource = c <= 0 ? skipEqual(source) : 0;
        long inTarget = c >= 0 ? skipEqual(target) : 0;
        tally.same(Math.min(inSource, inTarget));
        if (inSource > inTarget) {
            emit(new Finding.Missing(List.of(), sourceRow, inSource - inTarget, true));
        } else if (inTarget > inSource) {
            emit(new Finding.Extra(List.of(), targetRow, inTarget - inSource, true));
        }
        return true;
    }

    private static long skipEqual(RowCursor cursor) {
        long rows = 1;
        while (cursor.nextHasSameKey()) {
            cursor.advance();
            rows++;
        }
        cursor.advance();
        return rows;
    }

    private void emit(Finding finding) {
        tally.count(finding);
        sink.accept(finding);
    }
}
