package sharptally.engines.jdbc.join;

import java.util.Optional;
import sharptally.core.shape.ColumnShape;

/** Of an engine that works within this program, or of which nothing is known. */
record NoJoining() implements Joining {
    @Override
    public Optional<String> instance() {
        return Optional.empty();
    }

    @Override
    public Outer outer() {
        return Outer.LEFT;
    }

    @Override
    public String same(ColumnShape one, ColumnShape other) {
        throw new IllegalStateException("tables are not joined here");
    }

    @Override
    public String distinct(ColumnShape one, ColumnShape other) {
        throw new IllegalStateException("tables are not joined here");
    }
}
