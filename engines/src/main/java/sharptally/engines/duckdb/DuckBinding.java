package sharptally.engines.duckdb;

import java.sql.PreparedStatement;
import java.sql.SQLException;
import sharptally.core.sql.SqlText.Bound;
import sharptally.core.types.Value;
import sharptally.engines.jdbc.Binding;
import sharptally.engines.jdbc.StandardBinding;

/** Binds plain numbers and text; all else takes the same way as in a script. */
final class DuckBinding implements Binding {
    @Override
    public boolean carries(Bound bound) {
        Value value = bound.value();
        return value instanceof Value.Bool
                || value instanceof Value.Int
                || value instanceof Value.Text text && text.value().indexOf('\0') < 0;
    }

    @Override
    public void bind(PreparedStatement statement, int index, Bound bound) throws SQLException {
        StandardBinding.bind(statement, index, bound.value());
    }
}
