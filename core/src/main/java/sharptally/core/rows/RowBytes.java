package sharptally.core.rows;

import java.io.IOException;
import java.io.OutputStream;
import java.util.Arrays;

/**
 * The rows of one batch as bytes, one behind the other: they take less room than cells, and a row lies in one place. Not
 * changed once it is made.
 */
public final class RowBytes {
    private static final int BYTES_PER_CELL = 13;

    private byte[] bytes;
    private int filled;
    private final int[] ends;

    /** All rows of a batch. */
    public RowBytes(RowBatch batch) {
        var columns = batch.columns();
        long guess = batch.bytes() + (long) BYTES_PER_CELL * batch.rows() * columns.size();
        this.bytes = new byte[(int) Math.min(Integer.MAX_VALUE - 64, guess)];
        this.ends = new int[batch.rows()];
        for (int row = 0; row < ends.length; row++) {
            RowCodec.write(columns, row, this);
            ends[row] = filled;
        }
    }

    /** None yet. */
    RowBytes() {
        this.bytes = new byte[0];
        this.ends = new int[0];
    }

    /** How many bytes rows take. */
    int filled() {
        return filled;
    }

    /** The bytes of all rows; there are none afterwards. */
    byte[] take() {
        byte[] all = Arrays.copyOf(bytes, filled);
        filled = 0;
        return all;
    }

    private void need(int count) {
        if (bytes.length - filled < count) {
            bytes = Arrays.copyOf(bytes, Math.max(Math.addExact(filled, count), (int)
                    Math.min(Integer.MAX_VALUE - 64, Math.max(64, bytes.length * 2L))));
        }
    }

    void writeByte(int value) {
        need(1);
        bytes[filled++] = (byte) value;
    }

    void writeInt(int value) {
        need(4);
        for (int shift = 24; shift >= 0; shift -= 8) {
            bytes[filled++] = (byte) (value >> shift);
        }
    }

    void writeLong(long value) {
        writeInt((int) (value >> 32));
        writeInt((int) value);
    }

    void write(byte[] from, int start, int length) {
        need(length);
        System.arraycopy(from, start, bytes, filled, length);
        filled += length;
    }

    public int rows() {
        return ends.length;
    }

    /** Bytes that are held. */
    public int size() {
        return bytes.length;
    }

    private int begin(int row) {
        return row == 0 ? 0 : ends[row - 1];
    }

    public void writeTo(OutputStream out, int row) throws IOException {
        out.write(bytes, begin(row), ends[row] - begin(row));
    }

    /** From where the rows are read. */
    public RowIn reader() {
        return new RowIn(bytes, filled);
    }

    /** Goes to a row, and appends it to each of the columns. */
    public void read(RowIn reader, int row, java.util.List<Column> into) throws IOException {
        reader.goTo(begin(row));
        RowCodec.read(reader, into);
    }
}
