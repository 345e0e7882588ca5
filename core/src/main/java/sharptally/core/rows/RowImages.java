package sharptally.core.rows;

import java.util.Arrays;

/**
 * Rows as a database sent them, end to end. Rows of equal images are equal, if both sides send in the same form, so that
 * most rows of two sides are compared without looking at a single cell. The converse does not hold: equal values may be
 * sent in several forms, such as 1.0 and 1.00.
 *
 * <p>Filled by one thread; afterwards it may be read by any.
 */
public final class RowImages {
    /** Turns the image of a row into cells. Immutable. */
    @FunctionalInterface
    public interface Decoder {
        /**
         * Appends a cell to each column.
         *
         * @param from where in the bytes the image begins
         * @param length of the image, in bytes
         */
        void decode(byte[] bytes, int from, int length, Column[] into);
    }

    private static final int LARGE = 4 << 20;

    private final Decoder decoder;
    private byte[] bytes;
    private int[] ends;
    private int rows;
    private int first;

    /**
     * @param expectedBytes of all images together
     */
    public RowImages(Decoder decoder, int expectedRows, int expectedBytes) {
        this.decoder = decoder;
        this.ends = new int[Math.max(4, expectedRows)];
        this.bytes = new byte[Math.max(256, expectedBytes)];
    }

    public int rows() {
        return rows;
    }

    /** Bytes of all images. */
    public int size() {
        return rows == 0 ? 0 : ends[rows - 1] - first;
    }

    /** Appends the image of a row. The bytes are not changed afterwards, as a large row is not copied. */
    public void add(byte[] from, int offset, int length) {
        if (rows == 0 && length >= LARGE) {
            bytes = from;
            first = offset;
            ends[rows++] = offset + length;
            return;
        }
        int begin = begin(rows);
        int end = Math.addExact(begin, length);
        if (end > bytes.length) {
            // Doubling stops at 64 MB, so that one large row is not held much more than once.
            int grown = bytes.length + Math.min(bytes.length, 1 << 26);
            bytes = Arrays.copyOf(bytes, Math.max(end, grown));
        }
        if (rows == ends.length) {
            ends = Arrays.copyOf(ends, rows * 2);
        }
        System.arraycopy(from, offset, bytes, begin, length);
        ends[rows++] = end;
    }

    private int begin(int row) {
        return row == 0 ? first : ends[row - 1];
    }

    boolean same(int row, RowImages other, int otherRow) {
        return Arrays.equals(bytes, begin(row), ends[row], other.bytes, other.begin(otherRow), other.ends[otherRow]);
    }

    void decode(int row, Column[] into) {
        decoder.decode(bytes, begin(row), ends[row] - begin(row), into);
    }
}
