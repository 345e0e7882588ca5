package sharptally.core.compare;

/** Adds up the rows of several ranges that are compared at once, to tell them on. Safe for use by several threads. */
public final class RowsDone {
    private final Progress progress;
    private long source;
    private long target;

    public RowsDone(Progress progress) {
        this.progress = progress;
    }

    /** For a range that is read; it counts once it is finished. */
    public Progress ofPart() {
        return (ofSource, ofTarget) -> tell(ofSource, ofTarget);
    }

    private synchronized void tell(long ofSource, long ofTarget) {
        progress.rows(source + ofSource, target + ofTarget);
    }

    public synchronized void finished(Counts counts) {
        source += counts.sourceRows();
        target += counts.targetRows();
        progress.rows(source, target);
    }
}
