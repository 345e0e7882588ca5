package sharptally.engines.postgresql;

import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.time.ZoneOffset;
import sharptally.core.sql.SqlText.Bound;
import sharptally.core.types.Value;
import sharptally.engines.jdbc.Binding;

/** Binds what the driver keeps exactly; times go as literals, since the driver turns them by its own zone. */
final class PgBinding implements Binding {
    @Override
    public boolean carries(Bound bound) {
        Value value = bound.value();
        return !(value instanceof Value.Other || value instanceof Value.BrokenText || value instanceof Value.Time);
    }

    @Override
    public void bind(PreparedStatement statement, int index, Bound bound) throws SQLException {
        Value value = bound.value();
        if (value instanceof Value.Bool v) {
            statement.setBoolean(index, v.value());
        } else if (value instanceof Value.Int v) {
            statement.setLong(index, v.value());
        } else if (value instanceof Value.Decimal v) {
            statement.setBigDecimal(index, v.value());
        } else if (value instanceof Value.Real v) {
            statement.setFloat(index, v.value());
        } else if (value instanceof Value.Double v) {
            statement.setDouble(index, v.value());
        } else if (value instanceof Value.Text v) {
            statement.setString(index, v.value());
        } else if (value instanceof Value.Bytes v) {
            statement.setBytes(index, v.value());
        } else if (value instanceof Value.Date v) {
            statement.setObject(index, v.value());
        } else if (value instanceof Value.Timestamp v) {
            statement.setObject(index, v.value());
        } else if (value instanceof Value.Instant v) {
            statement.setObject(index, v.value().atOffset(ZoneOffset.UTC));
        } else if (value instanceof Value.Uuid v) {
            statement.setObject(index, v.value());
        } else {
            statement.setObject(index, null);
        }
    }
}
