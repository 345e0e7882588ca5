package sharptally.engines.jdbc;

import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.time.LocalTime;
import java.time.ZoneOffset;
import sharptally.core.types.Value;

/** Hands each value over as the Java type that the JDBC standard gives it. */
public final class StandardBinding {
    private StandardBinding() {}

    /**
     * @throws IllegalStateException for values that the standard has no type for; {@code carries} must refuse those
     */
    public static void bind(PreparedStatement statement, int index, Value value) throws SQLException {
        if (value instanceof Value.Null) {
            statement.setObject(index, null);
        } else if (value instanceof Value.Bool v) {
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
            statement.setObject(index, v.value());
        } else if (value instanceof Value.Instant v) {
            statement.setObject(index, v.value().atOffset(ZoneOffset.UTC));
        } else if (value instanceof Value.Uuid v) {
            statement.setObject(index, v.value());
        } else {
            throw new IllegalStateException("no standard binding for " + value.getClass());
        }
    }
}
