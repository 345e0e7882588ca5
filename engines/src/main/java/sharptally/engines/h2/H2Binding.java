package sharptally.engines.h2;

import java.sql.PreparedStatement;
import java.sql.SQLException;
import sharptally.core.sql.SqlText.Bound;
import sharptally.core.types.Value;
import sharptally.engines.jdbc.Binding;
import sharptally.engines.jdbc.StandardBinding;

/** Binds each value as the Java type that H2 keeps exactly. */
final class H2Binding implements Binding {
    private static final long NANOS_PER_DAY = 86_400_000_000_000L;

    @Override
    public boolean carries(Bound bound) {
        Value value = bound.value();
        return !(value instanceof Value.Other || value instanceof Value.BrokenText)
                && !(value instanceof Value.Time time && (time.nanos() < 0 || time.nanos() >= NANOS_PER_DAY));
    }

    @Override
    public void bind(PreparedStatement statement, int index, Bound bound) throws SQLException {
        StandardBinding.bind(statement, index, bound.value());
    }
}
