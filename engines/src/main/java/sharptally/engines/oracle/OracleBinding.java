package sharptally.engines.oracle;

import java.sql.PreparedStatement;
import java.sql.SQLException;
import sharptally.core.sql.SqlText.Bound;
import sharptally.core.types.Value;
import sharptally.engines.jdbc.Binding;
import sharptally.engines.jdbc.StandardBinding;

/** Numbers, and what is too long for a statement; what else a column may hold stands there, in a form of its own type. */
final class OracleBinding implements Binding {
    @Override
    public boolean carries(Bound bound) {
        Value value = bound.value();
        return value instanceof Value.Int
                || value instanceof Value.Decimal
                || value instanceof Value.Bytes
                || value instanceof Value.Text text && !text.value().isEmpty();
    }

    @Override
    public void bind(PreparedStatement statement, int index, Bound value) throws SQLException {
        if (value.value() instanceof Value.Text text) {
            statement.setNString(index, text.value());
        } else {
            StandardBinding.bind(statement, index, value.value());
        }
    }
}
