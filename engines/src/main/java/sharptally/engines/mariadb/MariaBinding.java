package sharptally.engines.mariadb;

import java.sql.PreparedStatement;
import java.sql.SQLException;
import sharptally.core.sql.SqlText.Bound;
import sharptally.core.types.Value;
import sharptally.engines.jdbc.Binding;

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
        Value value = bound.value();
        if (value instanceof Value.Bool v) {
            statement.setInt(index, v.value() ? 1 : 0);
        } else if (value instanceof Value.Int v) {
            statement.setLong(index, v.value());
        } else if (value instanceof Value.Decimal v) {
            statement.setBigDecimal(index, v.value());
        } else if (value instanceof Value.Text v) {
            statement.setString(index, v.value());
        } else if (value instanceof Value.Bytes v) {
            statement.setBytes(index, v.value());
        } else {
            statement.setObject(index, null);
        }
    }
}
