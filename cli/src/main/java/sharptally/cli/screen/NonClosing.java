package sharptally.cli.screen;

import java.io.FilterOutputStream;
import java.io.IOException;
import java.io.OutputStream;

/** A stream whose end its writer does not decide: closing flushes. */
public final class NonClosing extends FilterOutputStream {
    public NonClosing(OutputStream out) {
        super(out);
    }

    @Override
    public void write(byte[] bytes, int from, int length) throws IOException {
        out.write(bytes, from, length);
    }

    @Override
    public void close() throws IOException {
        flush();
    }
}
