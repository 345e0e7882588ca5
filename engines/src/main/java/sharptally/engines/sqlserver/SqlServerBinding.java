package sharptally.engines.sqlserver;

import java.sql.PreparedStatement;
import java.sql.SQLException;
import sharptally.core.sql.SqlText.Bound;
import sharptally.core.types.Value;
import sharptally.engines.jdbc.Binding;
import sharptally.engines.jdbc.StandardBinding;

/** Numbers, texts and bytes; what else a column may hold stands in the statement, in a form of its own type. */
final class SqlServerBinding implements Binding {
    @Override
    public boolean carries(Bound bound) {
        Value value = bound.value();
        return value instanceof Value.Int
                || value instanceof Value.Decimal
                || value instanceof Value.Bool
                || value instanceof Value.Text
                || value instanceof Value.Bytes
                || value instanceof Value.Double;
    }

    @Override
    public void bind(PreparedStatement statement, int index, Bound value) throws SQLException {
        StandardBinding.bind(statement, index, value.value());
    }
}
