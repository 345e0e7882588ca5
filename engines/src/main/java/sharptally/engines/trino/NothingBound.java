package sharptally.engines.trino;

import java.sql.PreparedStatement;
import sharptally.core.sql.SqlText.Bound;
import sharptally.engines.jdbc.Binding;

/** Values stand in statements: the driver would write them there too, in less exact forms. */
final class NothingBound implements Binding {
    @Override
    public boolean carries(Bound bound) {
        return false;
    }

    @Override
    public void bind(PreparedStatement statement, int index, Bound bound) {
        throw new IllegalStateException("not bound: " + bound);
    }
}
