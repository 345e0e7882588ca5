package sharptally.engines.postgresql;

import java.sql.PreparedStatement;
import java.sql.SQLException;
import sharptally.core.sql.SqlText.Bound;
import sharptally.core.types.Value;
import sharptally.engines.jdbc.Binding;
import sharptally.engines.jdbc.StandardBinding;

/** Binds what the driver keeps exactly; times go as literals, since the driver turns them by its own zone. */
final class PgBinding implements Binding {
    @Override
    public boolean carries(Bound bound) {
        Value value = bound.value();
        return !(value instanceof Value.Other || value instanceof Value.BrokenText || value instanceof Value.Time);
    }

    @Override
    public void bind(PreparedStatement statement, int index, Bound bound) throws SQLException {
        StandardBinding.bind(statement, index, bound.value());
    }
}
