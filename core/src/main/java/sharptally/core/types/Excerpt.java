package sharptally.core.types;

import java.util.Arrays;

/** The beginning of a large value, for people to look at. */
public final class Excerpt {
    private static final int LENGTH = 1_000;

    private Excerpt() {}

    /** The value itself, unless it is text of more than 1,000 characters or has more bytes than that. */
    public static Value of(Value value) {
        // An excerpt is one letter longer than what it shows, and is left as it is.
        if (value instanceof Value.Text text && text.value().length() > LENGTH + 1) {
            int end = LENGTH - (Character.isHighSurrogate(text.value().charAt(LENGTH - 1)) ? 1 : 0);
            return new Value.Text(text.value().substring(0, end) + "…");
        } else if (value instanceof Value.Bytes bytes && bytes.value().length > LENGTH) {
            Value begin = new Value.Bytes(Arrays.copyOf(bytes.value(), LENGTH));
            return new Value.Other("bytes", begin + "… (" + bytes.value().length + " bytes)");
        }
        return value;
    }
}
