package sharptally.core.compare;

import sharptally.core.place.Side;

/** Thrown within a comparison when a side delivers its rows in another key order than ours. */
final class OutOfOrder extends RuntimeException {
    private final transient Side side;

    OutOfOrder(Side side) {
        super("rows of the " + side + " are not in key order", null, false, false);
        this.side = side;
    }

    Side side() {
        return side;
    }
}
