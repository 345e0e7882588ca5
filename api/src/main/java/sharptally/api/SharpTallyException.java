package sharptally.api;

import java.util.function.Supplier;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.report.text.ObstacleText;

/** The one exception of this API: what failed, where, and what would help, in one line. */
public final class SharpTallyException extends RuntimeException {
    private static final long serialVersionUID = 1;

    /** What a failure means to the caller. */
    public enum Kind {
        /** Something can't be used as it was given. */
        USAGE,
        /** A job file, run folder or other file can't be understood. */
        FILE,
        /** A database can't be reached or opened. */
        CONNECTION,
        /** A database was opened, but something in it can't be read. */
        READ,
        /** Going on would change something that was not compared, or is not as it was compared. Nothing was changed. */
        REFUSED,
        /** The work ended before its end, so nothing was proved. */
        INCOMPLETE,
        /** The machine lacks what is needed, such as room for temporary files. */
        ENVIRONMENT,
        /** A fault of this library. */
        BUG
    }

    private final Kind kind;

    private SharpTallyException(Kind kind, String message, Throwable cause) {
        super(message, cause);
        this.kind = kind;
    }

    public Kind kind() {
        return kind;
    }

    static SharpTallyException of(ToolException failure) {
        return new SharpTallyException(
                kind(failure.kind()),
                ToolException.line(ObstacleText.what(failure), failure.where(), failure.mend()),
                failure);
    }

    static SharpTallyException usage(String message) {
        return new SharpTallyException(Kind.USAGE, message, null);
    }

    private static Kind kind(ErrorKind kind) {
        return switch (kind) {
            case USAGE -> Kind.USAGE;
            case JOB_FILE -> Kind.FILE;
            case CONNECT -> Kind.CONNECTION;
            case READ, BROKEN -> Kind.READ;
            case REFUSED -> Kind.REFUSED;
            case INCOMPLETE -> Kind.INCOMPLETE;
            case START -> Kind.ENVIRONMENT;
            case BUG -> Kind.BUG;
        };
    }

    /** Does something, its failure told as this one. */
    static <T> T told(Supplier<T> work) {
        try {
            return work.get();
        } catch (ToolException e) {
            throw of(e);
        }
    }
}
