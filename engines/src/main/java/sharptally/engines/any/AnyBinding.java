package sharptally.engines.any;

import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.sql.Types;
import sharptally.core.shape.ColumnShape;
import sharptally.core.sql.SqlText.Bound;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;
import sharptally.engines.jdbc.Binding;
import sharptally.engines.jdbc.StandardBinding;

/** Binds every value as the Java type that the JDBC standard gives it. */
final class AnyBinding implements Binding {
    @Override
    public boolean carries(Bound bound) {
        return !(bound.value() instanceof Value.Other || bound.value() instanceof Value.BrokenText);
    }

    /** Not every driver takes a NULL of no type. */
    private static int type(ColumnShape column) {
        return switch (column.type().map(CanonicalType::kind).orElse(Kind.ANY)) {
            case BOOLEAN -> Types.BOOLEAN;
            case INTEGER -> Types.BIGINT;
            case DECIMAL -> Types.DECIMAL;
            case FLOAT -> Types.REAL;
            case DOUBLE -> Types.DOUBLE;
            case TEXT -> Types.VARCHAR;
            case BYTES -> Types.VARBINARY;
            case DATE -> Types.DATE;
            case TIME -> Types.TIME;
            case TIMESTAMP -> Types.TIMESTAMP;
            default -> Types.NULL;
        };
    }

    @Override
    public void bind(PreparedStatement statement, int index, Bound bound) throws SQLException {
        if (bound.value() instanceof Value.Null) {
            statement.setNull(index, type(bound.column()));
        } else if (bound.value() instanceof Value.Timestamp timestamp) {
            statement.setTimestamp(index, UtcTimestamps.written(timestamp.value()), UtcTimestamps.calendar());
        } else {
            StandardBinding.bind(statement, index, bound.value());
        }
    }
}
