package sharptally.engines.jdbc;

import java.sql.PreparedStatement;
import java.sql.SQLException;
import sharptally.core.sql.SqlText.Bound;

/** How values are handed to one engine apart from the statement. Immutable. */
public interface Binding {
    /** Whether the driver carries this value over exactly; if not, it is written out as a literal. */
    boolean carries(Bound value);

    /**
     * @param index place of the value in the statement, from 1
     */
    void bind(PreparedStatement statement, int index, Bound value) throws SQLException;
}
