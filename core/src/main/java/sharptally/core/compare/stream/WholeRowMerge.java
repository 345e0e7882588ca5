package sharptally.core.compare.stream;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.function.Function;
import java.util.stream.IntStream;
import sharptally.core.finding.Finding;
import sharptally.core.finding.FindingSink;
import sharptally.core.match.ColumnPair;
import sharptally.core.match.TableMatch;
import sharptally.core.rows.Cast;
import sharptally.core.rows.Column;
import sharptally.core.types.Value;

/**
 * Merges two streams of rows, each in the order of all compared columns, as multisets: a row that a side has more often
 * than the other is missing or extra that many times. Memory: one row per side,
 * and the different values of columns with rules among rows that are equal by them.
 */
final class WholeRowMerge {
    private final TableMatch match;
    private final int[] ruled;
    private final RowCursor source;
    private final RowCursor target;
    private final FindingSink sink;
    private final ResultCounter tally;

    WholeRowMerge(TableMatch match, RowCursor source, RowCursor target, FindingSink sink, ResultCounter tally) {
        this.match = match;
        this.ruled = IntStream.range(0, match.pairs().size())
                .filter(i -> !match.pairs().get(i).rules().isEmpty())
                .toArray();
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
        Optional<String> sourcePosition = c <= 0 ? source.position() : Optional.empty();
        Optional<String> targetPosition = c >= 0 ? target.position() : Optional.empty();
        List<Map<Value, Long>> sourceForms = forms();
        List<Map<Value, Long>> targetForms = forms();
        long inSource = c <= 0 ? skipEqual(source, sourceForms, ColumnPair::sourceCast) : 0;
        long inTarget = c >= 0 ? skipEqual(target, targetForms, ColumnPair::targetCast) : 0;
        long both = Math.min(inSource, inTarget);
        tally.same(both);
        countRules(both, sourceForms, targetForms);
        if (inSource > inTarget) {
            emit(new Finding.Missing(
                    List.of(), sourceRow, inSource - inTarget, true, OptionalLong.of(both), sourcePosition));
        } else if (inTarget > inSource) {
            emit(new Finding.Extra(
                    List.of(), targetRow, inTarget - inSource, true, OptionalLong.of(both), targetPosition));
        }
        return true;
    }

    /** For each column with rules, how often which value was read among rows that are equal by the rules. */
    private List<Map<Value, Long>> forms() {
        return IntStream.range(0, ruled.length)
                .<Map<Value, Long>>mapToObj(i -> new HashMap<>())
                .toList();
    }

    /** Of rows held equal, as many needed a rule in a column as can't be paired off with the same value in it. */
    private void countRules(long both, List<Map<Value, Long>> ofSource, List<Map<Value, Long>> ofTarget) {
        for (int i = 0; i < ruled.length && both > 0; i++) {
            Map<Value, Long> there = ofTarget.get(i);
            long paired = ofSource.get(i).entrySet().stream()
                    .mapToLong(e -> Math.min(e.getValue(), there.getOrDefault(e.getKey(), 0L)))
                    .sum();
            for (long needed = both - paired; needed > 0; needed--) {
                tally.sameByRule(
                        ruled[i], match.pairs().get(ruled[i]).toRuleSet().words());
            }
        }
    }

    private long skipEqual(RowCursor cursor, List<Map<Value, Long>> forms, Function<ColumnPair, Cast> castOf) {
        long rows = 1;
        note(cursor, forms, castOf);
        while (cursor.nextHasSameKey()) {
            cursor.advance();
            note(cursor, forms, castOf);
            rows++;
        }
        cursor.advance();
        return rows;
    }

    private void note(RowCursor cursor, List<Map<Value, Long>> forms, Function<ColumnPair, Cast> castOf) {
        for (int i = 0; i < ruled.length; i++) {
            Column cell = new Column(1);
            cell.add(cursor.value(ruled[i]));
            Value read = castOf.apply(match.pairs().get(ruled[i])).apply(cell).value(0);
            Value form = read instanceof Value.Decimal decimal
                    ? new Value.Decimal(decimal.value().stripTrailingZeros())
                    : read;
            forms.get(i).merge(form, 1L, Long::sum);
        }
    }

    private void emit(Finding finding) {
        tally.count(finding);
        sink.accept(finding);
    }
}
