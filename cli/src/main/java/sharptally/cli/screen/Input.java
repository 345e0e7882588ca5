package sharptally.cli.screen;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.Optional;

/** What the user types. */
public final class Input {
    private Input() {}

    /** One line of standard input, without its end; empty at the end of the input. */
    public static Optional<String> line() {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        try {
            int b = System.in.read();
            if (b < 0) {
                return Optional.empty();
            }
            while (b >= 0 && b != '\n') {
                bytes.write(b);
                b = System.in.read();
            }
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return Optional.of(bytes.toString(StandardCharsets.UTF_8));
    }
}
