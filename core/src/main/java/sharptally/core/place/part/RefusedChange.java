package sharptally.core.place.part;

import sharptally.core.fault.ToolException;

/** Thrown when a database refuses one of several changes; none of those that were not committed before is kept. */
public final class RefusedChange extends RuntimeException {
    private static final long serialVersionUID = 1;

    private final int index;
    private final transient ToolException failure;
    private final boolean again;

    /**
     * @param index which of the changes that were handed over; -1 where that is not known
     * @param again whether it may well succeed when all is done again, as after a deadlock
     */
    public RefusedChange(int index, ToolException failure, boolean again) {
        super(failure.getMessage(), failure);
        this.index = index;
        this.failure = failure;
        this.again = again;
    }

    public int index() {
        return index;
    }

    public ToolException failure() {
        return failure;
    }

    public boolean mayBeTriedAgain() {
        return again;
    }
}
