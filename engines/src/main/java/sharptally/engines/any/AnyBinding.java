package sharptally.engines.any;

import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.sql.Timestamp;
import java.sql.Types;
import java.time.LocalTime;
import java.time.ZoneOffset;
import sharptally.core.sql.SqlText.Bound;
import sharptally.core.types.Value;
import sharptally.engines.jdbc.Binding;

/** Binds every value as the Java type that the JDBC standard gives it. */
final class AnyBinding implements Binding {
    @Override
    public boolean carries(Bound bound) {
        return !(bound.value() instanceof Value.Other || bound.value() instanceof Value.BrokenText);
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
        } else if (value instanceof Value.Time v) {
            statement.setObject(index, LocalTime.ofNanoOfDay(v.nanos()));
        } else if (value instanceof Value.Timestamp v) {
            statement.setTimestamp(index, Timestamp.valueOf(v.value()));
        } else if (value instanceof Value.Instant v) {
            statement.setObject(index, v.value().atOffset(ZoneOffset.UTC));
        } else if (value instanceof Value.Uuid v) {
            statement.setObject(index, v.value());
        } else {
            statement.setNull(index, Types.NULL);
        }
    }
}
