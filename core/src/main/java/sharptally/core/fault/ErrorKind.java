package sharptally.core.fault;

/** What an expected failure means to whoever started the program; each kind has one exit code. */
public enum ErrorKind {
    /** An option, address or argument can't be used as given. */
    USAGE(2),
    /** A job file or a run folder can't be understood. */
    JOB_FILE(2),
    /** A place can't be reached or opened. */
    CONNECT(3),
    /** A place was opened, but something in it can't be read. */
    READ(3),
    /** A place was being read when the connection broke; it may go on with a new one. */
    BROKEN(3),
    /** Going on would change something that was not compared or not confirmed. */
    REFUSED(4),
    /** The work ended before everything was compared, so nothing was proved. */
    INCOMPLETE(5),
    /** What the program itself needs from its machine is not there, so that nothing was begun. */
    START(69),
    /** A broken invariant of the program itself. */
    BUG(70);

    private final int exitCode;

    ErrorKind(int exitCode) {
        this.exitCode = exitCode;
    }

    public int exitCode() {
        return exitCode;
    }
}
