package sharptally.core.compare.stream;

import sharptally.core.place.Side;

/** Thrown within a comparison when a side delivers its rows in another key order than ours. */
public final class OutOfOrder extends RuntimeException {
    private final transient Side side;

    public OutOfOrder(Side side) {
        super("rows of the " + side + " are not in key order", null, false, false);
        this.side = side;
    }

    public Side side() {
        return side;
    }
}
