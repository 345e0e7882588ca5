package sharptally.core.sort;

import java.util.List;
import sharptally.core.rows.CellOrder;
import sharptally.core.rows.Column;
import sharptally.core.rows.RowBytes;

/**
 * Rows in memory, in the order of some columns; equal ones stay as they came. A merge sort of row numbers by a prefix of
 * the first column, which settles nearly all comparisons without a look at the rows; rows that come in order take one look
 * each.
 */
final class Chunk {
    static final Chunk NOTHING = new Chunk(List.of(), List.of());

    private final List<RowBytes> rows;
    private final List<List<Column>> order;
    private final int[] batchOf;
    private final int[] rowOf;
    private final long[] prefixes;
    private final int[] places;

    /**
     * @param rows of one batch each
     * @param order the columns to sort by, of each batch
     */
    Chunk(List<RowBytes> rows, List<List<Column>> order) {
        this.rows = List.copyOf(rows);
        this.order = List.copyOf(order);
        int count = rows.stream().mapToInt(RowBytes::rows).sum();
        this.batchOf = new int[count];
        this.rowOf = new int[count];
        this.prefixes = new long[count];
        int[] unsorted = new int[count];
        int filled = 0;
        for (int b = 0; b < rows.size(); b++) {
            long[] ofBatch = prefixes(order.get(b), rows.get(b).rows());
            for (int row = 0; row < ofBatch.length; row++) {
                batchOf[filled] = b;
                rowOf[filled] = row;
                prefixes[filled] = ofBatch[row];
                unsorted[filled] = filled;
                filled++;
            }
        }
        this.places = unsorted;
        sort(unsorted.clone(), places, 0, count);
    }

    static long[] prefixes(List<Column> order, int rows) {
        long[] prefixes = new long[rows];
        for (int row = 0; row < rows && !order.isEmpty(); row++) {
            prefixes[row] = CellOrder.prefix(order.get(0), row);
        }
        return prefixes;
    }

    static int compare(List<Column> one, int row, List<Column> other, int otherRow) {
        for (int i = 0; i < one.size(); i++) {
            int c = CellOrder.compare(one.get(i), row, other.get(i), otherRow);
            if (c != 0) {
                return c;
            }
        }
        return 0;
    }

    /** Sorts {@code to}, of which {@code from} is a copy. */
    private void sort(int[] from, int[] to, int begin, int end) {
        if (end - begin < 2) {
            return;
        }
        int middle = (begin + end) >>> 1;
        sort(to, from, begin, middle);
        sort(to, from, middle, end);
        if (compare(from[middle - 1], from[middle]) <= 0) {
            System.arraycopy(from, begin, to, begin, end - begin);
            return;
        }
        int left = begin;
        int right = middle;
        for (int i = begin; i < end; i++) {
            boolean takesLeft = right >= end || left < middle && compare(from[left], from[right]) <= 0;
            to[i] = takesLeft ? from[left++] : from[right++];
        }
    }

    private int compare(int one, int other) {
        int c = Long.compare(prefixes[one], prefixes[other]);
        return c != 0 ? c : compare(order.get(batchOf[one]), rowOf[one], order.get(batchOf[other]), rowOf[other]);
    }

    int rows() {
        return places.length;
    }

    /** The rows among which the n-th one stands. */
    RowBytes batch(int n) {
        return rows.get(batchOf[places[n]]);
    }

    /** Where among them it stands. */
    int row(int n) {
        return rowOf[places[n]];
    }
}
