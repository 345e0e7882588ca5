package sharptally.core.compare.stream;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.function.Supplier;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.Hint;
import sharptally.core.fault.ToolException;
import sharptally.core.finding.Difference;
import sharptally.core.finding.Finding;
import sharptally.core.finding.FindingSink;
import sharptally.core.finding.Positions;
import sharptally.core.match.TableMatch;
import sharptally.core.types.Value;

/**
 * Merges two streams of rows in key order into findings.
 *
 * <p>Idea: the smaller key stands on its own side only; equal keys are one row, whose other columns are compared with
 * each other. A key that occurs more than once on a side is told as repeated, and its rows are paired off as a
 * multiset: rows that are equal throughout are the same, what is left over is missing or extra. They are never called
 * changed, for nothing says which of them changed into which. Cost: one step per row, and a sort within a repeated key.
 * Memory: one row per side, and the rows of one repeated key.
 */
final class KeyedMerge {
    /** Beyond this, the key is not one. */
    private static final int MAX_ROWS_PER_KEY = 100_000;

    private final TableMatch match;
    private final RowCursor source;
    private final RowCursor target;
    private final FindingSink sink;
    private final ResultCounter tally;
    private final boolean aligned;
    private final int[] values;
    private final int[] ruledKey;
    private final boolean[] translated;
    private final List<String> ruleWords;
    private final Supplier<List<Value>> currentKey = this::key;
    private long differs;
    private boolean atSource;

    /**
     * @param aligned whether the cursors step together, each row beside its counterpart or beside none
     */
    KeyedMerge(
            TableMatch match,
            RowCursor source,
            RowCursor target,
            FindingSink sink,
            ResultCounter tally,
            boolean aligned) {
        this.match = match;
        this.aligned = aligned;
        this.source = source;
        this.target = target;
        this.sink = sink;
        this.tally = tally;
        this.values = match.valuePairs();
        this.ruledKey = match.key().stream()
                .mapToInt(i -> i)
                .filter(i -> !match.pairs().get(i).rules().isEmpty())
                .toArray();
        this.translated = new boolean[match.pairs().size()];
        this.ruleWords = new ArrayList<>();
        for (int i = 0; i < translated.length; i++) {
            var rules = match.pairs().get(i).toRuleSet();
            translated[i] = rules.translates();
            ruleWords.add(match.key().contains(i) ? rules.words() : rules.translatingWords());
        }
    }

    /** Handles one key; false when both sides are at their end. */
    boolean step() {
        if (!source.hasRow() && !target.hasRow()) {
            return false;
        }
        int c = aligned ? alignedOrder() : order();
        differs = 0;
        atSource = c <= 0;
        tally.damage().start(currentKey);
        boolean repeated = c <= 0 && source.nextHasSameKey() || c >= 0 && target.nextHasSameKey();
        if (repeated) {
            group(c);
        } else if (c < 0) {
            emit(missing(source.key(), source.keep(), false));
            advance(true, aligned);
        } else if (c > 0) {
            emit(extra(target.keep(), false));
            advance(aligned, true);
        } else {
            pair();
            advance(true, true);
        }
        tally.damage().pass(1, differs);
        return true;
    }

    private int order() {
        return !source.hasRow() ? 1 : !target.hasRow() ? -1 : source.compareKey(target);
    }

    private int alignedOrder() {
        return source.isAbsent() ? 1 : target.isAbsent() ? -1 : 0;
    }

    private void advance(boolean ofSource, boolean ofTarget) {
        if (ofSource) {
            source.advance();
        }
        if (ofTarget) {
            target.advance();
        }
    }

    private List<Value> key() {
        return (atSource ? source : target).key();
    }

    private void pair() {
        if (source.isSameImage(target)) {
            tally.same(1);
            return;
        }
        List<Difference> differences = List.of();
        for (int i : ruledKey) {
            if (!source.isSameAsRead(i, target)) {
                tally.sameByRule(i, ruleWords.get(i));
            }
        }
        for (int i : values) {
            if (source.isSame(i, target)) {
                if (translated[i] && !source.isSameAsRead(i, target)) {
                    tally.sameByRule(i, ruleWords.get(i));
                }
                continue;
            }
            Optional<String> rule = source.holding(i, target);
            if (rule.isPresent()) {
                tally.sameByRule(i, rule.get());
            } else {
                if (differences.isEmpty()) {
                    differences = new ArrayList<>();
                }
                differences.add(new Difference(i, source.value(i), target.value(i)));
            }
        }
        if (differences.isEmpty()) {
            tally.same(1);
        } else {
            emit(new Finding.Changed(
                    source.key(),
                    target.key(),
                    differences,
                    same(differences),
                    new Positions(source.position(), target.position())));
        }
    }

    /** What both sides hold in the columns in which the row is the same, but for values that are too long to be kept. */
    private List<Difference> same(List<Difference> differences) {
        List<Difference> same = new ArrayList<>(values.length);
        int next = 0;
        for (int i : values) {
            if (next < differences.size() && differences.get(next).pair() == i) {
                next++;
                continue;
            }
            Value ofSource = source.value(i);
            Value ofTarget = target.value(i);
            if (isShort(ofSource) && isShort(ofTarget)) {
                same.add(new Difference(i, ofSource, ofTarget));
            }
        }
        return same;
    }

    private static boolean isShort(Value value) {
        return !(value instanceof Value.Text text && text.value().length() > Finding.MAX_KEPT)
                && !(value instanceof Value.Bytes bytes && bytes.value().length > Finding.MAX_KEPT)
                && !(value instanceof Value.BrokenText text && text.bytes().length > Finding.MAX_KEPT)
                && !(value instanceof Value.Other other && other.text().length() > Finding.MAX_KEPT);
    }

    private void group(int c) {
        List<RowCursor.Row> ofSource = c <= 0 ? take(source) : List.of();
        List<RowCursor.Row> ofTarget = c >= 0 ? take(target) : List.of();
        var key = (ofSource.isEmpty() ? ofTarget : ofSource).get(0).key();
        emit(new Finding.Repeated(key, ofSource.size(), ofTarget.size()));
        int s = 0;
        int t = 0;
        while (s < ofSource.size() || t < ofTarget.size()) {
            int order = s == ofSource.size()
                    ? 1
                    : t == ofTarget.size() ? -1 : ofSource.get(s).compareWhole(ofTarget.get(t));
            if (order == 0) {
                tally.same(1);
                s++;
                t++;
            } else if (order < 0) {
                emit(missing(key, ofSource.get(s++), true));
            } else {
                emit(extra(ofTarget.get(t++), true));
            }
        }
    }

    private List<RowCursor.Row> take(RowCursor cursor) {
        List<RowCursor.Row> rows = new ArrayList<>();
        boolean more = true;
        while (more) {
            if (rows.size() == MAX_ROWS_PER_KEY) {
                throw new ToolException(
                        ErrorKind.INCOMPLETE,
                        "a key stands in more than " + MAX_ROWS_PER_KEY + " rows",
                        match.name() + ", key "
                                + match.keyPairs().stream().map(p -> p.name()).toList(),
                        Hint.KEY);
            }
            more = cursor.nextHasSameKey();
            rows.add(cursor.keep());
            cursor.advance();
        }
        rows.sort(RowCursor.Row::compareWhole);
        return rows;
    }

    private static Finding missing(List<Value> key, RowCursor.Row row, boolean among) {
        return new Finding.Missing(key, row.values(), 1, among, OptionalLong.empty(), row.position());
    }

    private static Finding extra(RowCursor.Row row, boolean among) {
        return new Finding.Extra(row.key(), row.values(), 1, among, OptionalLong.empty(), row.position());
    }

    private void emit(Finding finding) {
        differs = 1;
        tally.count(finding);
        sink.accept(finding);
    }
}
