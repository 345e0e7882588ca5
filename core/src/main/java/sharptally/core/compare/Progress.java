package sharptally.core.compare;

/** Told now and then how far a comparison is. Called from the comparing thread. */
@FunctionalInterface
public interface Progress {
    Progress NONE = (source, target) -> {};

    /** Rows compared so far, of either side. */
    void rows(long source, long target);
}
