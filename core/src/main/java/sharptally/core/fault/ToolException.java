package sharptally.core.fault;

import java.util.List;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * An expected failure, told to the user in one line: what failed, where, and how to mend it.
 * Never carries row values or passwords unless the user asked to see values.
 */
public class ToolException extends RuntimeException {
    private final ErrorKind kind;
    private final String what;
    private final String where;
    private final String mend;
    private final Hint hint;

    public ToolException(ErrorKind kind, String what, String where, String mend) {
        this(kind, what, where, mend, null);
    }

    public ToolException(ErrorKind kind, String what, String where, String mend, @Nullable Throwable cause) {
        super(line(what, where, mend), cause);
        this.kind = kind;
        this.what = what;
        this.where = where;
        this.mend = mend;
        this.hint = Hint.NONE;
    }

    public ToolException(ErrorKind kind, String what, String where, Hint hint) {
        super(line(what, where, hint.words()));
        this.kind = kind;
        this.what = what;
        this.where = where;
        this.mend = hint.words();
        this.hint = hint;
    }

    public ToolException(ErrorKind kind, String what, String where, Hint hint, Throwable cause) {
        this(kind, what, where, hint);
        initCause(cause);
    }

    /** The same failure in other words, with what would help unchanged. */
    public ToolException toldAs(String otherWhat, String otherWhere) {
        return hint == Hint.NONE
                ? new ToolException(kind, otherWhat, otherWhere, mend, this)
                : new ToolException(kind, otherWhat, otherWhere, hint, this);
    }

    /** Several failures as one, as {@link #all(ErrorKind, List)}, with what would help with all of them. */
    public static ToolException all(ErrorKind kind, List<String> problems, Hint hint) {
        return new ToolException(kind, all(kind, problems).what, "", hint);
    }

    private ToolException(ErrorKind kind, String message) {
        super(message);
        this.kind = kind;
        this.what = message;
        this.where = "";
        this.mend = "";
        this.hint = Hint.NONE;
    }

    /** Several failures as one, each on a line of its own; a single one as it is. */
    public static ToolException all(ErrorKind kind, List<String> problems) {
        List<String> lines = problems.stream()
                .map(p -> p.replaceAll("[\\r\\n]+", " ").strip())
                .distinct()
                .toList();
        return new ToolException(
                kind,
                lines.size() == 1
                        ? lines.get(0)
                        : lines.size() + " problems"
                                + String.join(
                                        "\n  ",
                                        Stream.concat(Stream.of(""), lines.stream())
                                                .toList()));
    }

    public ErrorKind kind() {
        return kind;
    }

    public String what() {
        return what;
    }

    public String where() {
        return where;
    }

    public String mend() {
        return mend;
    }

    /** What would help, for those who can say how it is asked for. */
    public Hint hint() {
        return hint;
    }

    /** The line that a failure is told in. */
    public static String line(String what, String where, String mend) {
        String text = where.isEmpty() ? what : what + ": " + where;
        return (mend.isEmpty() ? text : text + "; " + mend)
                .replace("\r", " ")
                .replace("\n", " ")
                .strip();
    }
}
