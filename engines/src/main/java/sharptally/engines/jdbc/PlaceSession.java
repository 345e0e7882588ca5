package sharptally.engines.jdbc;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.List;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.function.Supplier;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Address;
import sharptally.core.place.ReadRequest;
import sharptally.core.rows.RowSource;
import sharptally.core.types.Value;

/**
 * What the parts of a place share with it. Used by one thread.
 *
 * @param connection the one that the place uses at the time
 * @param reader how the place reads rows of a table, or of a query that was written here; never of one that a user gave
 * @param statementDone to be called after a statement: where no snapshot is wanted, no transaction is left open
 */
public record PlaceSession(
        JdbcEngine engine,
        Address address,
        Supplier<Connection> connection,
        Function<ReadRequest, RowSource> reader,
        Runnable statementDone) {
    public Selects selects() {
        return new Selects(engine);
    }

    /** Hands on every row of a request. */
    public void readAll(ReadRequest request, Consumer<List<Value>> to) {
        try (RowSource rows = reader.apply(request)) {
            for (var batch = rows.next(); batch.isPresent(); batch = rows.next()) {
                for (int row = 0; row < batch.get().rows(); row++) {
                    to.accept(batch.get().row(row));
                }
            }
        }
    }

    /** The one value of a query. */
    public String asked(String sql, String whatFails) {
        try {
            return Rows.read(connection.get(), sql, row -> row.getString(1)).get(0);
        } catch (SQLException e) {
            throw failed(whatFails, e);
        }
    }

    public ToolException failed(String what, SQLException e) {
        return Failures.wrap(ErrorKind.READ, what, address.toString(), e);
    }
}
