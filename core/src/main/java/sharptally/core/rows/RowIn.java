package sharptally.core.rows;

import java.io.EOFException;
import java.io.IOException;
import java.io.InputStream;

/** Where rows are read from that {@link RowBytes} wrote. Used by one thread; its methods take no lock. */
public final class RowIn implements AutoCloseable {
    private final InputStream in;
    private final byte[] buffer;
    private int at;
    private int filled;

    /**
     * @param bufferBytes at least a few hundred
     */
    public RowIn(InputStream in, int bufferBytes) {
        this.in = in;
        this.buffer = new byte[bufferBytes];
    }

    RowIn(byte[] bytes, int filled) {
        this.in = InputStream.nullInputStream();
        this.buffer = bytes;
        this.filled = filled;
    }

    /** Of rows as {@link RowPack} hands them out. */
    static RowIn of(byte[] bytes) {
        return new RowIn(bytes, bytes.length);
    }

    void goTo(int place) {
        at = place;
    }

    /** Whether there is another byte. */
    public boolean hasMore() throws IOException {
        return at < filled || fill() > 0;
    }

    private int fill() throws IOException {
        System.arraycopy(buffer, at, buffer, 0, filled - at);
        filled -= at;
        at = 0;
        int read = in.read(buffer, filled, buffer.length - filled);
        filled += Math.max(0, read);
        return read;
    }

    private void need(int bytes) throws IOException {
        while (filled - at < bytes) {
            if (fill() <= 0) {
                throw new EOFException("rows end too early");
            }
        }
    }

    byte readByte() throws IOException {
        need(1);
        return buffer[at++];
    }

    int readInt() throws IOException {
        need(4);
        int value = 0;
        for (int i = 0; i < 4; i++) {
            value = value << 8 | buffer[at++] & 0xFF;
        }
        return value;
    }

    long readLong() throws IOException {
        return (long) readInt() << 32 | readInt() & 0xFFFF_FFFFL;
    }

    byte[] readBytes(int length) throws IOException {
        byte[] bytes = new byte[length];
        int now = Math.min(length, filled - at);
        System.arraycopy(buffer, at, bytes, 0, now);
        at += now;
        if (in.readNBytes(bytes, now, length - now) < length - now) {
            throw new EOFException("rows end too early");
        }
        return bytes;
    }

    /** Adds bytes to a column as they lie here. */
    void addSlice(Column column, byte tag, int length) throws IOException {
        if (length > buffer.length) {
            column.addSlice(tag, readBytes(length), 0, length);
            return;
        }
        need(length);
        column.addSlice(tag, buffer, at, length);
        at += length;
    }

    @Override
    public void close() throws IOException {
        in.close();
    }
}
