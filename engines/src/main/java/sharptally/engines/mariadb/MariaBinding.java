package sharptally.engines.mariadb;

import java.sql.PreparedStatement;
import java.sql.SQLException;
import sharptally.core.sql.SqlText.Bound;
import sharptally.core.types.Value;
import sharptally.engines.jdbc.Binding;
import sharptally.engines.jdbc.StandardBinding;

/** Binds what the driver keeps exactly; times go as literals, which no zone of the client touches. */
final class MariaBinding implements Binding {
    @Override
    public boolean carries(Bound bound) {
        Value value = bound.value();
        return value instanceof Value.Null
                || value instanceof Value.Bool
                || value instanceof Value.Int
                || value instanceof Value.Decimal
                || value instanceof Value.Text
                || value instanceof Value.Bytes;
    }

    @Override
    public void bind(PreparedStatement statement, int index, Bound bound) throws SQLException {
        if (bound.value() instanceof Value.Bool bool) {
            statement.setInt(index, bool.value() ? 1 : 0);
        } else {
            StandardBinding.bind(statement, index, bound.value());
        }
    }
}
