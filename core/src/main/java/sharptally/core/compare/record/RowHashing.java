package sharptally.core.compare.record;

import java.util.BitSet;
import java.util.List;
import java.util.function.LongPredicate;
import java.util.function.UnaryOperator;
import java.util.stream.IntStream;
import sharptally.core.compare.stream.RowMerge;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Side;
import sharptally.core.place.part.Records;
import sharptally.core.rows.CellHash;
import sharptally.core.rows.Column;
import sharptally.core.rows.RecordHash;
import sharptally.core.rows.RowBatch;

/**
 * Hashes of the rows of one side, in the forms in which they are compared: of the key, and of all compared columns. Where a match
 * has no key, all columns are the key. Used by one thread.
 */
public final class RowHashing {
    private final TableMatch match;
    private final List<UnaryOperator<Column>> forms;
    private final RecordHash hash;
    private final CellHash cells;
    private final int[] key;

    /**
     * @param hash the same for both sides
     */
    public RowHashing(TableMatch match, Side side, RowMerge merge, RecordHash hash) {
        this.match = match;
        this.hash = hash;
        this.cells = new CellHash(hash);
        this.forms = IntStream.range(0, match.pairs().size())
                .mapToObj(pair -> merge.form(pair, side))
                .toList();
        this.key = match.wholeRow()
                ? IntStream.range(0, match.pairs().size()).toArray()
                : match.key().stream().mapToInt(i -> i).toArray();
    }

    /** What is added up of the key's columns; rows without a key are told apart. */
    private long[] keys(RowBatch batch, Column[] compared, BitSet without) {
        long[] sums = new long[batch.rows()];
        for (int pair : key) {
            Column column = compared[pair];
            for (int row = 0; row < sums.length; row++) {
                sums[row] += hash.inKey(pair, cells.of(column, row));
                if (!match.wholeRow() && column.isNull(row)) {
                    without.set(row);
                }
            }
        }
        return sums;
    }

    /**
     * Hands out the hashes of all rows of a batch, in their order.
     *
     * @param batch with the compared columns first, in the order of the match's pairs
     */
    public void hash(RowBatch batch, Records.Taking into) {
        Column[] compared = new Column[match.pairs().size()];
        long[] rows = new long[batch.rows()];
        for (int pair = 0; pair < compared.length; pair++) {
            Column column = forms.get(pair).apply(batch.column(pair));
            compared[pair] = column;
            for (int row = 0; row < rows.length; row++) {
                rows[row] += hash.inRow(pair, cells.of(column, row));
            }
        }
        BitSet without = new BitSet();
        long[] keys = keys(batch, compared, without);
        for (int row = 0; row < rows.length; row++) {
            if (without.get(row)) {
                into.takeWithoutKey();
            } else {
                into.take(keys[row], rows[row]);
            }
        }
    }

    /** The rows of a batch without a key, and those the hash of whose key is wanted. */
    public int[] wanted(RowBatch batch, LongPredicate wanted) {
        Column[] compared = new Column[match.pairs().size()];
        for (int pair : key) {
            compared[pair] = forms.get(pair).apply(batch.column(pair));
        }
        BitSet without = new BitSet();
        long[] keys = keys(batch, compared, without);
        return IntStream.range(0, keys.length)
                .filter(row -> without.get(row) || wanted.test(keys[row]))
                .toArray();
    }
}
