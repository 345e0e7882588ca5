package sharptally.core.match.text;

import java.util.List;
import java.util.stream.IntStream;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.match.TableMatch;
import sharptally.core.range.KeyRange;
import sharptally.core.types.Value;

/** Ranges of a match's key as a person writes them: {@code FROM..TO}, the parts of a key joined by commas. */
public final class KeyText {
    private KeyText() {}

    /**
     * @param text either end may be empty
     * @throws ToolException when it is no range, or not of this key
     */
    public static KeyRange range(TableMatch match, String text) {
        String[] ends = text.split("\\.\\.", -1);
        if (ends.length != 2 || ends[0].isEmpty() && ends[1].isEmpty()) {
            throw usage("not a range of keys", text, "write FROM..TO, FROM.. or ..TO");
        }
        return new KeyRange(end(match, ends[0]), end(match, ends[1]));
    }

    private static List<Value> end(TableMatch match, String text) {
        if (text.isEmpty()) {
            return List.of();
        }
        String[] parts = match.key().size() == 1 ? new String[] {text} : text.split(",", -1);
        if (match.wholeRow() || parts.length > match.key().size()) {
            throw usage(
                    "the key has " + match.key().size() + " columns, not " + parts.length,
                    match.name() + ": " + text,
                    "write as many values as the key's first columns, with commas between");
        }
        return IntStream.range(0, parts.length)
                .mapToObj(i -> TypedText.value(match.keyPairs().get(i).source(), parts[i]))
                .toList();
    }

    private static ToolException usage(String what, String where, String mend) {
        return new ToolException(ErrorKind.USAGE, what, where, mend);
    }
}
